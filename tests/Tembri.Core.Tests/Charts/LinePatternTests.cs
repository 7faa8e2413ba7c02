using System.Reflection;
using System.Text.RegularExpressions;
using Tembri.Core.Charts;

namespace Tembri.Core.Tests.Charts;

/// <summary>Whatever stands in a line, a pattern looks at it a few times: the work grows with the line and not with its
/// square or cube.</summary>
public sealed class LinePatternTests
{
    // Some times the longest line, so that a square shows: that would take many seconds, a few looks take some milliseconds.
    private const int Length = 4 * ChartLimits.LongestLine;
    private static readonly TimeSpan TooLong = TimeSpan.FromMilliseconds(400);

    /// <summary>How lines begin that patterns look for, and what can be written behind that again and again.</summary>
    private static readonly string[] Beginnings =
    [
        "", "verse (", "[a", "capo", "title:", "figure", "end of a", "verse same", "C", "(c)",
    ];

    private static readonly string[] Pieces =
    [
        " ", "a", "1", "(", "[", "-", ":", "x2", "verse  x", "[a", "(a", ", ", "a  ", "1/", "|", "#", "sus", "m", "2 x ", ". ",
        "play ", "C4",
    ];

    public static TheoryData<string> Patterns()
    {
        var named = new TheoryData<string>();
        foreach (var (name, _) in All()) named.Add(name);
        return named;
    }

    private static IEnumerable<(string Name, GeneratedRegexAttribute Made)> All() =>
        typeof(ChartLimits).Assembly.GetTypes()
            .SelectMany(t => t.GetMethods(BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic
                | BindingFlags.DeclaredOnly))
            .Select(m => ($"{m.DeclaringType!.Name}.{m.Name}", Made: m.GetCustomAttribute<GeneratedRegexAttribute>()))
            .Where(x => x.Made is not null && !x.Made.Options.HasFlag(RegexOptions.NonBacktracking))
            .Select(x => (x.Item1, x.Made!)).OrderBy(x => x.Item1, StringComparer.Ordinal);

    [Theory]
    [MemberData(nameof(Patterns))]
    public void The_longest_line_is_looked_at_a_few_times_whatever_stands_in_it(string name)
    {
        var made = All().Single(x => x.Name == name).Made;
        var pattern = new Regex(made.Pattern, made.Options | RegexOptions.Compiled, TooLong);
        foreach (var beginning in Beginnings)
            foreach (var piece in Pieces)
                foreach (var end in new[] { "!", "]x" })
                {
                    var times = Length / piece.Length;
                    var line = beginning + string.Concat(Enumerable.Repeat(piece, times)) + end;
                    // Several times, since other work can hold a thread up for as long; what is slow is slow each time.
                    Assert.True(Enumerable.Range(0, Tries).Any(_ => IsQuick(pattern, line)),
                        $"{name} takes too long on “{beginning}”, “{piece}” again and again, “{end}”.");
                }
    }

    private const int Tries = 6;

    private static bool IsQuick(Regex pattern, string line)
    {
        try
        {
            for (var m = pattern.Match(line); m is { Success: true, Length: > 0 }; m = m.NextMatch()) { }
            return true;
        }
        catch (RegexMatchTimeoutException) { return false; }
    }
}
