using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Reflection;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Mvc;
using Tembri.Web.Api;
using Tembri.Web.Computing;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Faults;

/// <summary>The outermost piece of a request: whatever goes wrong inside ends in one clear answer and, when it is our fault, in
/// one line of the log.</summary>
/// <remarks>
/// The answer asks for neither database nor account, so it can be given when those are what fails. People get a page, scripts
/// and programs
/// problem details (RFC 9457). The log names the kind and the place of a fault, never its message: messages may hold what
/// somebody typed.
/// </remarks>
internal sealed class FaultAnswers(RequestDelegate next, ILogger<FaultAnswers> log)
{
    /// <summary>Key of the items in which an inner piece says more about the status it set.</summary>
    public const string CodeItem = "tembri:fault";

    private static readonly string Template = ReadTemplate();

    /// <summary>What a fault is to the outside.</summary>
    private sealed record Answer(int Status, string? Detail = null, string? Field = null, int? ComeBack = null,
        string? Code = null);

    public async Task InvokeAsync(HttpContext context)
    {
        try
        {
            await next(context);
        }
        catch (OperationCanceledException) when (context.RequestAborted.IsCancellationRequested)
        {
            // Nobody waits for an answer any more.
            if (!context.Response.HasStarted) context.Response.StatusCode = StatusCodes.Status499ClientClosedRequest;
            return;
        }
        catch (Exception e)
        {
            var answer = AnswerTo(e);
            if (answer.Status >= 500) Note(context, answer.Status, e);
            if (context.Response.HasStarted) throw;
            Prepare(context.Response);
            await WriteAsync(context, answer);
            return;
        }
        var response = context.Response;
        var isAnswered =
            response.HasStarted || response.ContentLength is not null || !string.IsNullOrEmpty(response.ContentType);
        if (response.StatusCode < 400 || isAnswered) return;
        await WriteAsync(context, new Answer(response.StatusCode, Code: context.Items[CodeItem] as string));
    }

    private static Answer AnswerTo(Exception e) => e switch
    {
        ApiProblem problem => new(400, problem.Message, problem.Field),
        TooBusyException busy => new(503, busy.Message, ComeBack: (int)Math.Ceiling(busy.ComeBack.TotalSeconds)),
        BadHttpRequestException { InnerException: JsonException json } =>
            new(400, json.Message, (json.Path ?? "").TrimStart('$').TrimStart('.')),
        BadHttpRequestException bad => new(bad.StatusCode, bad.Message),
        AntiforgeryValidationException => new(400, Code: "form"),
        InvalidDataException => new(413),
        _ when DatabaseFaults.IsConflict(e) => new(409),
        _ when DatabaseFaults.IsUnstorable(e) => new(400),
        _ when DatabaseFaults.IsOutage(e) => new(503, ComeBack: 5, Code: "database"),
        OperationCanceledException => new(503, ComeBack: 5),
        _ => new(500),
    };

    private static void Prepare(HttpResponse response)
    {
        response.ContentLength = null;
        response.Headers.ContentType = default;
        response.Headers.ContentEncoding = default;
        response.Headers.Location = default;
    }

    private static async Task WriteAsync(HttpContext context, Answer answer)
    {
        var response = context.Response;
        response.StatusCode = answer.Status;
        response.Headers.CacheControl = "no-store";
        if (answer.ComeBack is { } seconds) response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        if (HttpMethods.IsHead(context.Request.Method)) return;
        var words = answer.Code == "link" ? FaultWords.Link : FaultWords.Of(answer.Status);
        if (context.Request.IsApi() || context.Request.IsFromScript()) await WriteProblemAsync(context, answer, words);
        else await WritePageAsync(context, answer, words);
    }

    private static Task WriteProblemAsync(HttpContext context, Answer answer, FaultWords words)
    {
        var problem = new ProblemDetails
        {
            Type = "about:blank", Status = answer.Status, Title = words.Heading, Detail = answer.Detail ?? words.Advice,
        };
        problem.Extensions["traceId"] = TraceOf(context);
        if (answer.Field is { Length: > 0 } field) problem.Extensions["field"] = field;
        if (answer.Code is { } code) problem.Extensions["code"] = code;
        return context.Response.WriteAsJsonAsync(problem, (JsonSerializerOptions?)null, "application/problem+json",
            context.RequestAborted);
    }

    private static Task WritePageAsync(HttpContext context, Answer answer, FaultWords words)
    {
        var assets = context.RequestServices.GetRequiredService<AssetNames>();
        var (way, wayWords) = answer.Status switch
        {
            401 => ("/account/sign-in", "Sign in"),
            503 when HttpMethods.IsGet(context.Request.Method) =>
                (context.Request.Path + context.Request.QueryString.ToString(), "Try again"),
            _ when answer.Code == "link" => ("/account/sign-in", "I am a teacher"),
            _ => ("/", "Back to Today"),
        };
        var page = new StringBuilder(Template);
        void Fill(string place, string text) => page.Replace("{{" + place + "}}", WebUtility.HtmlEncode(text));
        Fill("heading", words.Heading);
        Fill("advice", answer.Code is null && answer.Detail is { } detail ? detail : words.Advice);
        Fill("way", way);
        Fill("wayWords", wayWords);
        Fill("style", assets["app.css"]);
        Fill("mark", assets["mark.svg"]);
        Fill("trace", answer.Status >= 500 ? $"If you ask for help, give this number: {TraceOf(context)}" : "");
        context.Response.ContentType = "text/html; charset=utf-8";
        return context.Response.WriteAsync(page.ToString(), context.RequestAborted);
    }

    private static string TraceOf(HttpContext context) => Activity.Current?.TraceId.ToHexString() ?? context.TraceIdentifier;

    private void Note(HttpContext context, int status, Exception e)
    {
        var innermost = e;
        while (innermost.InnerException is { } inner) innermost = inner;
        var kind = innermost is Npgsql.PostgresException postgres
            ? $"{innermost.GetType().Name} {postgres.SqlState}"
            : innermost.GetType().Name;
        // Work that is put off is no fault of ours, but worth knowing when it is much.
        log.Log(e is TooBusyException ? LogLevel.Warning : LogLevel.Error,
            "{Method} {Path} {Status} trace {Trace} studio {Studio}: {Fault} in {Place}",
            context.Request.Method, PathWithoutSecrets(context.Request.Path), status, TraceOf(context),
            context.User.FindFirst(SignedInStudio.ClaimType)?.Value ?? "none", kind, PlaceOf(innermost));
    }

    /// <summary>Our own method nearest to the fault.</summary>
    private static string PlaceOf(Exception e)
    {
        static bool IsOurs(MethodBase? method) =>
            method?.DeclaringType?.FullName?.StartsWith("Tembri", StringComparison.Ordinal) == true;
        var method = new StackTrace(e, fNeedFileInfo: false).GetFrames().Select(f => f.GetMethod()).FirstOrDefault(IsOurs);
        if (method is null) return "the framework";
        // What goes on after an await stands in a class of the compiler's, named <Method> and nested in the one we wrote.
        var type = method.DeclaringType!;
        var isMade = type.Name.StartsWith('<') && type.DeclaringType is not null;
        return isMade ? $"{type.DeclaringType!.Name}.{type.Name[1..].Split('>')[0]}" : $"{type.Name}.{method.Name}";
    }

    /// <summary>Paths hold names of pages and identifiers. Anything else somebody typed.</summary>
    private static string PathWithoutSecrets(PathString path)
    {
        if (path.StartsWithSegments(StudentDoorStep.Root)) return $"{StudentDoorStep.Root}/(a link)";
        var value = path.Value ?? "/";
        var plain = value.Length <= 200 && value.All(c => char.IsAsciiLetterOrDigit(c) || c is '/' or '-' or '.' or '_');
        return plain ? value : "(an odd path)";
    }

    private static string ReadTemplate()
    {
        using var stream = typeof(FaultAnswers).Assembly.GetManifestResourceStream("Tembri.Web.Faults.fault.html")!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
