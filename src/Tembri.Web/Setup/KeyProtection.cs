using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Microsoft.AspNetCore.DataProtection;
using Tembri.Data;

namespace Tembri.Web.Setup;

/// <summary>The keys that seal cookies lie in the database, so that several instances share them; they are themselves sealed
/// with a certificate that lies beside the application.</summary>
internal static class KeyProtection
{
    private const int Years = 30;

    /// <summary>Keeps the keys in the database, sealed when <c>CookieKeyFile</c> names a file; the file is made at the first
    /// start, readable by its owner only.</summary>
    public static void AddKeyProtection(this IServiceCollection services, IConfiguration configuration)
    {
        var keys = services.AddDataProtection().SetApplicationName("Tembri").PersistKeysToDbContext<TembriDbContext>();
        if (configuration["CookieKeyFile"] is not { Length: > 0 } file) return;
        var certificate = Open(file);
        keys.ProtectKeysWithCertificate(certificate).UnprotectKeysWithAnyCertificate(certificate);
    }

    private static X509Certificate2 Open(string file)
    {
        if (!File.Exists(file)) Make(file);
        return X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    private static void Make(string file)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
        using var key = RSA.Create(3072);
        var request = new CertificateRequest("CN=Tembri cookie keys", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        using var certificate =
            request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddYears(Years));
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows()) options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        try
        {
            using var stream = new FileStream(file, options);
            stream.Write(certificate.Export(X509ContentType.Pkcs12));
        }
        catch (IOException) when (File.Exists(file))
        {
            // Another instance made it at the same moment; that one holds.
        }
    }
}
