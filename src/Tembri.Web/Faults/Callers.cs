namespace Tembri.Web.Faults;

/// <summary>Who asks: a person who opens a page, or a script or program that wants data.</summary>
internal static class Callers
{
    /// <summary>What Tembri's own scripts say they are.</summary>
    public const string ScriptHeader = "X-Tembri";

    public static bool IsApi(this HttpRequest request) =>
        request.Path.StartsWithSegments("/api") || request.Path.StartsWithSegments("/openapi");

    /// <summary>True when what comes back is not shown as a page of its own.</summary>
    public static bool IsFromScript(this HttpRequest request)
    {
        var headers = request.Headers;
        if (headers.ContainsKey(ScriptHeader) || headers.ContainsKey("HX-Request") || headers.ContainsKey("X-Requested-With")
            || headers.ContainsKey("X-Text") || headers.ContainsKey("X-Progress"))
            return true;
        if (headers["Sec-Fetch-Dest"].ToString() == "empty") return true;
        var accept = headers.Accept.ToString();
        return accept.Contains("json", StringComparison.OrdinalIgnoreCase)
            && !accept.Contains("html", StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>True when a page may be answered by leading to another one. A form that is sent is not: what it holds would be
    /// lost.</summary>
    public static bool IsNavigation(this HttpRequest request) =>
        (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method)) && !request.IsApi() && !request.IsFromScript();
}
