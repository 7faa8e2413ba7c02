using System.Text.Json;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;

namespace Tembri.Web.Api;

/// <summary>A fault in a request's body: which field, at which position, and what to do.</summary>
public sealed class ApiProblem(string field, string detail) : Exception(detail)
{
    /// <summary>The field in JSON notation, such as <c>shapes[3][2]</c>.</summary>
    public string Field { get; } = field;
}

/// <summary>Answers faults of API requests with RFC 9457 problem details.</summary>
internal sealed class ApiProblemHandler(IProblemDetailsService problems) : IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken cancellationToken)
    {
        if (!IsApi(context)) return false;
        var details = exception switch
        {
            ApiProblem problem => Make(400, "The request cannot be computed.", problem.Message, problem.Field),
            BadHttpRequestException { InnerException: JsonException json } => Make(400, "The body is not the JSON this call expects.", json.Message, Field(json.Path)),
            BadHttpRequestException bad => Make(bad.StatusCode, "The request cannot be read.", bad.Message, ""),
            _ => null,
        };
        if (details is null) return false;
        context.Response.StatusCode = details.Status ?? 400;
        return await problems.TryWriteAsync(new ProblemDetailsContext { HttpContext = context, ProblemDetails = details });
    }

    /// <summary>The error page has already taken over the path; the feature remembers where the request went.</summary>
    private static bool IsApi(HttpContext context) =>
        new PathString(context.Features.Get<IExceptionHandlerPathFeature>()?.Path ?? context.Request.Path.Value).StartsWithSegments("/api");

    private static string Field(string? path) => path is null ? "" : path.TrimStart('$').TrimStart('.');

    private static ProblemDetails Make(int status, string title, string detail, string field)
    {
        var details = new ProblemDetails { Status = status, Title = title, Detail = detail };
        if (field.Length > 0) details.Extensions["field"] = field;
        return details;
    }
}
