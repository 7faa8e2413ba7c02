using Microsoft.Extensions.Primitives;
using Microsoft.Net.Http.Headers;

namespace Tembri.Web.Setup;

/// <summary>How an answer may be packed for who asks (RFC 9110, section 12.5.3).</summary>
internal static class Packing
{
    public const string Brotli = "br", Gzip = "gzip";

    /// <summary>The best packing the caller unpacks; null for none.</summary>
    public static string? For(HttpRequest request)
    {
        var accepted = request.Headers.AcceptEncoding;
        return Accepts(accepted, Brotli) ? Brotli : Accepts(accepted, Gzip) ? Gzip : null;
    }

    /// <summary>True when a caller names a packing and does not refuse it.</summary>
    /// <param name="accepted">What the caller accepts, as it stands in the header.</param>
    /// <param name="encoding">The packing.</param>
    public static bool Accepts(StringValues accepted, string encoding) =>
        StringWithQualityHeaderValue.TryParseList(accepted, out var ways)
            && ways.Any(w => w.Value.Equals(encoding, StringComparison.OrdinalIgnoreCase) && w.Quality != 0);
}
