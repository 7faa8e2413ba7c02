using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Core.Infrastructure;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Faults;

namespace Tembri.Web.Setup;

/// <summary>What every page asks for before it is handled: that the request is one the page knows, and the studio's
/// settings.</summary>
internal sealed class PageGuard(TembriDbContext context, ICurrentStudio current, StudioSettings settings) : IAsyncPageFilter
{
    public async Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext selected)
    {
        // Who is signed in has it from the look at the session.
        if (current.StudioId is { } id && settings.Studio?.Id != id
            && await context.Studios.AsNoTracking()
                .FirstOrDefaultAsync(s => s.Id == id, selected.HttpContext.RequestAborted) is { } studio)
            settings.Take(studio);
    }

    public Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext executing, PageHandlerExecutionDelegate next)
    {
        var request = executing.HttpContext.Request;
        var looks = HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method);
        // A handler nobody wrote, or a method the page has no handler for, would show the page without anything loaded.
        if (request.Query["handler"].ToString() is { Length: > 0 } named
            && !named.Equals(executing.HandlerMethod?.Name, StringComparison.OrdinalIgnoreCase))
            executing.Result = new NotFoundResult();
        else if (executing.HandlerMethod is null) executing.Result = new StatusCodeResult(StatusCodes.Status405MethodNotAllowed);
        // Numbers in an address that are none, or far too large.
        else if (looks && !executing.ModelState.IsValid
            && executing.ModelState.Any(m => m.Value is { AttemptedValue: not null, Errors.Count: > 0 }))
            executing.Result = new StatusCodeResult(StatusCodes.Status400BadRequest);
        return executing.Result is null ? next() : Task.CompletedTask;
    }
}

/// <summary>Tells scripts that a form was refused for its token alone, so that they fetch a new one and send it again.</summary>
internal sealed class StaleFormFilter : IAlwaysRunResultFilter
{
    public void OnResultExecuting(ResultExecutingContext context)
    {
        if (context.Result is IAntiforgeryValidationFailedResult) context.HttpContext.Items[FaultAnswers.CodeItem] = "form";
    }

    public void OnResultExecuted(ResultExecutedContext context)
    {
    }
}
