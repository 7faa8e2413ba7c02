using System.Net;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.HttpOverrides;

namespace Tembri.Web.Setup;

/// <summary>Headers that keep the pages to themselves: everything comes from this server, nothing inline.</summary>
internal static class SecurityHeaders
{
    private const string ContentPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
            + "media-src blob:; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public static void UseSecurityHeaders(this IApplicationBuilder app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = ContentPolicy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        // Only a student's own page may ask for the microphone, to count and to tune.
        headers["Permissions-Policy"] =
            $"camera=(), microphone=({(context.Request.Path.StartsWithSegments(Practice.StudentDoorStep.Root) ? "self" : "")}), "
                + "geolocation=()";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        if (context.Request.IsHttps) headers.StrictTransportSecurity = "max-age=31536000";
        if (!context.Request.Path.StartsWithSegments("/assets"))
            (headers.CacheControl, headers.Pragma) = ("no-cache, no-store", "no-cache");
        return next(context);
    });

    /// <summary>Believes what proxies say of the caller's address and scheme, but only those named in <c>Proxies</c>; from
    /// anybody else such headers are ignored.</summary>
    public static void UseNamedProxies(this WebApplication app)
    {
        var named = (app.Configuration["Proxies"] ?? "").Split([',', ' ', ';'], StringSplitOptions.RemoveEmptyEntries);
        if (named.Length == 0) return;
        var options = new ForwardedHeadersOptions
        {
            ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto, ForwardLimit = named.Length
        };
        options.KnownProxies.Clear();
        options.KnownIPNetworks.Clear();
        foreach (var name in named) options.KnownProxies.Add(IPAddress.Parse(name));
        app.UseForwardedHeaders(options);
    }

    /// <summary>A fresh token for a form that has been open for long, for scripts of the pages.</summary>
    public static void MapFormToken(this WebApplication app) =>
        app.MapGet("/account/token", (IAntiforgery antiforgery, HttpContext context) =>
        Results.Json(new { token = antiforgery.GetAndStoreTokens(context).RequestToken })).RequireAuthorization()
        .ExcludeFromDescription();
}
