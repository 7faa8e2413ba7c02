namespace Tembri.Core.Tests;

/// <summary>How the code is written down.</summary>
public sealed class LineTests
{
    private const int Edge = 130;

    /// <summary>A line ends before column 130, so that two files stand side by side; only a text that nobody would cut (a
    /// pattern, a question to the database, words with numbers in them) may go on.</summary>
    [Fact]
    public void No_line_reaches_column_130_but_for_a_text()
    {
        var tooLong = new List<string>();
        foreach (var file in Files())
        {
            var isText = false;   // within a text of several lines
            foreach (var (line, number) in File.ReadLines(file).Select((l, i) => (l, i + 1)))
            {
                var turns = line.Split("\"\"\"").Length - 1;
                if (line.Length >= Edge && !isText && turns == 0 && !line.Contains('"'))
                    tooLong.Add($"{Path.GetRelativePath(Repository.Folder, file)}:{number}");
                isText ^= turns % 2 == 1;
            }
        }
        Assert.Equal([], tooLong);
    }

    /// <summary>A file has one namespace, which takes no room at the left. (The compiler could say so, but its rules of style
    /// are read all or none, and cost each build a minute.)</summary>
    [Fact]
    public void A_namespace_holds_for_its_file() =>
        Assert.Equal([], Files().Where(f => File.ReadLines(f).Any(l => l.StartsWith("namespace ") && !l.EndsWith(';'))));

    private static List<string> Files()
    {
        var folders = new[] { "src", "tests", "bench" }.Select(f => Path.Combine(Repository.Folder, f));
        var files = folders.SelectMany(f => Directory.EnumerateFiles(f, "*.cs", SearchOption.AllDirectories))
            .Where(f => !Path.GetRelativePath(Repository.Folder, f).Split('/').Any(p => p is "bin" or "obj" or "Migrations"))
            .ToList();
        Assert.True(files.Count > 500, "the code was not found");
        return files;
    }
}
