using System.Diagnostics;

namespace Tembri.Fault.Tests;

/// <summary>A disk of a few megabytes for one database, which can be filled to the brim.</summary>
public sealed class SmallDisk : IDisposable
{
    private readonly string _root;

    private SmallDisk(string root) => _root = root;

    /// <summary>Where the database's files lie.</summary>
    public string Folder => Path.Combine(_root, "space");

    private string Ballast => Path.Combine(_root, "ballast");

    /// <summary>Mounts one; null where that is not allowed.</summary>
    public static SmallDisk? Mount()
    {
        var root = Directory.CreateTempSubdirectory("tembri-disk-").FullName;
        if (!Run("mount", "-t", "tmpfs", "-o", "size=60m,mode=711", "tmpfs", root))
        {
            Directory.Delete(root);
            return null;
        }
        var disk = new SmallDisk(root);
        Directory.CreateDirectory(disk.Folder);
        Run("chown", "postgres:postgres", disk.Folder);
        return disk;
    }

    /// <summary>Leaves next to no room.</summary>
    public void Fill()
    {
        using var file = File.Create(Ballast);
        var megabyte = new byte[1_000_000];
        try { while (true) { file.Write(megabyte); file.Flush(flushToDisk: true); } }
        catch (IOException) { file.SetLength(Math.Max(0, file.Length - 4_000_000)); }
    }

    public void Free() => File.Delete(Ballast);

    private static bool Run(string program, params string[] words)
    {
        using var process = Process.Start(new ProcessStartInfo(program, words) { RedirectStandardError = true })!;
        process.WaitForExit();
        return process.ExitCode == 0;
    }

    public void Dispose()
    {
        Run("umount", "-l", _root);
        if (Directory.Exists(_root) && !Directory.EnumerateFileSystemEntries(_root).Any()) Directory.Delete(_root);
    }
}
