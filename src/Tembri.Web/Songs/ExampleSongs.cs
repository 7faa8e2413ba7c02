namespace Tembri.Web.Songs;

/// <summary>A few songs that ship with Tembri: original ones, to be tried in an empty studio.</summary>
internal static class ExampleSongs
{
    private static readonly string[] Files = ["two-left-shoes.txt", "paper-kites.txt", "salt-on-the-sill.txt"];

    /// <summary>Their charts.</summary>
    public static IEnumerable<string> Texts => Files.Select(file =>
    {
        using var stream = typeof(ExampleSongs).Assembly.GetManifestResourceStream(file)
            ?? throw new InvalidOperationException($"The example {file} is not embedded.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    });
}
