namespace Tembri.Core.Tests;

internal static class Repository
{
    /// <summary>The folder with the solution file.</summary>
    public static string Folder { get; } = Find(AppContext.BaseDirectory);

    private static string Find(string folder) =>
        File.Exists(Path.Combine(folder, "Tembri.slnx"))
            ? folder
            : Find(Path.GetDirectoryName(folder) ?? throw new DirectoryNotFoundException("Tembri.slnx"));
}
