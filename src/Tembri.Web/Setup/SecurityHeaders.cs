using Microsoft.AspNetCore.StaticFiles;

namespace Tembri.Web.Setup;

/// <summary>Headers that keep the pages to themselves: everything comes from this server, nothing inline.</summary>
internal static class SecurityHeaders
{
    private const string ContentPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public static void UseSecurityHeaders(this IApplicationBuilder app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = ContentPolicy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=()";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        if (context.Request.IsHttps) headers.StrictTransportSecurity = "max-age=31536000";
        if (!context.Request.Path.StartsWithSegments("/assets")) (headers.CacheControl, headers.Pragma) = ("no-cache, no-store", "no-cache");
        return next(context);
    });

    /// <summary>Assets carry a version in their address, so browsers may keep them.</summary>
    public static void CacheAssets(StaticFileResponseContext file) => file.Context.Response.Headers.CacheControl = "public, max-age=31536000, immutable";
}
