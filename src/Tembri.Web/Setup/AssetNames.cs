using System.Text.Json;

namespace Tembri.Web.Setup;

/// <summary>Addresses of styles, scripts and pictures: each carries a fingerprint of its content in its name, so that browsers
/// may keep it for good.</summary>
internal sealed class AssetNames
{
    private readonly Dictionary<string, string> _names;
    private readonly HashSet<string> _addresses;

    public AssetNames(IWebHostEnvironment environment)
    {
        var list = environment.WebRootFileProvider.GetFileInfo("assets/names.json");
        if (!list.Exists) throw new InvalidOperationException("The assets are not built; run npm run build.");
        using var stream = list.CreateReadStream();
        _names = JsonSerializer.Deserialize<Dictionary<string, string>>(stream)!;
        _addresses = [.. _names.Values.Select(n => "/assets/" + n)];
    }

    /// <summary>The address of an asset by its plain name, such as <c>app.css</c>.</summary>
    public string this[string name] => "/assets/" + _names[name];

    /// <summary>True for a path under /assets that carries a fingerprint.</summary>
    public bool IsFingerprinted(PathString path) => _addresses.Contains(path.Value ?? "");
}
