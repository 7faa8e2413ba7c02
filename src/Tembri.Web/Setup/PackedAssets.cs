using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Net.Http.Headers;

namespace Tembri.Web.Setup;

/// <summary>Serves assets that were packed when they were built, to browsers that unpack them.</summary>
internal static class PackedAssets
{
    private static readonly (string Encoding, string Extension)[] Ways = [(Packing.Brotli, ".br"), (Packing.Gzip, ".gz")];
    private static readonly FileExtensionContentTypeProvider Types = new();

    /// <summary>Leads a request for an asset to its packed file, where there is one; then serves files.</summary>
    public static void UsePackedAssets(this WebApplication app)
    {
        var files = app.Environment.WebRootFileProvider;
        var names = app.Services.GetRequiredService<AssetNames>();
        app.Use((context, next) =>
        {
            var (path, accepted) = (context.Request.Path, context.Request.Headers.AcceptEncoding);
            if (!path.StartsWithSegments("/assets") || !Types.TryGetContentType(path.Value!, out var type)) return next(context);
            context.Response.Headers.Vary = HeaderNames.AcceptEncoding;
            foreach (var (encoding, extension) in Ways)
            {
                if (!Packing.Accepts(accepted, encoding) || !files.GetFileInfo(path.Value + extension).Exists) continue;
                context.Items[typeof(PackedAssets)] = (encoding, type, path);
                context.Request.Path = path + extension;
                break;
            }
            return next(context);
        });
        app.UseStaticFiles(new StaticFileOptions
        {
            ServeUnknownFileTypes = true,   // packed files; only what the build wrote is there
            OnPrepareResponse = file =>
            {
                var (context, path) = (file.Context, file.Context.Request.Path);
                if (context.Items[typeof(PackedAssets)] is (string encoding, string type, PathString asked))
                {
                    (context.Response.Headers.ContentEncoding, context.Response.ContentType, path) = (encoding, type, asked);
                }
                context.Response.Headers.CacheControl =
                    names.IsFingerprinted(path) ? "public, max-age=31536000, immutable" : "no-cache";
            },
        });
    }
}
