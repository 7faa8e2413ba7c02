using Microsoft.AspNetCore.Mvc.ModelBinding;
using Microsoft.AspNetCore.Mvc.ModelBinding.Binders;

namespace Tembri.Web.Setup;

/// <summary>Reads boxes that are ticked or not. What is neither is refused like any other field, and the box is shown empty
/// again; the framework would throw when it shows the page with what was sent.</summary>
internal sealed class TickBinding(IModelBinder inner) : IModelBinder
{
    public async Task BindModelAsync(ModelBindingContext bindingContext)
    {
        await inner.BindModelAsync(bindingContext);
        var sent = bindingContext.ValueProvider.GetValue(bindingContext.ModelName);
        if (sent != ValueProviderResult.None && !bool.TryParse(sent.FirstValue, out _))
            bindingContext.ModelState.SetModelValue(bindingContext.ModelName, bool.FalseString, bool.FalseString);
    }

    internal sealed class Provider : IModelBinderProvider
    {
        private readonly SimpleTypeModelBinderProvider _inner = new();

        public IModelBinder? GetBinder(ModelBinderProviderContext context) =>
            context.Metadata.ModelType == typeof(bool) && _inner.GetBinder(context) is { } inner ? new TickBinding(inner) : null;
    }
}
