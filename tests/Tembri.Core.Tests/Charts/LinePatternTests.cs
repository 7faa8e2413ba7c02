using System.Diagnostics;
using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Charts;

namespace Tembri.Core.Tests.Charts;

/// <summary>Whatever stands in a line, a pattern looks at it a few times: the work grows with the line and not with its
/// square or cube.</summary>
public sealed class LinePatternTests
{
    // Twice the longest line, so that a square shows: that takes seconds, a few looks some milliseconds. What an eighth of it
    // takes, a cube takes 512 times and a square 64 times on the whole: if that is little, the whole is not too long either.
    private const int Length = 2 * ChartLimits.LongestLine, Short = Length / 8;
    private static readonly TimeSpan TooLong = TimeSpan.FromMilliseconds(100), Patience = TimeSpan.FromSeconds(20),
        Little = TooLong / 200;

    /// <summary>How lines begin that patterns look for, and what can be written behind that again and again.</summary>
    private static readonly string[] Beginnings =
    [
        "", "verse (", "[a", "end of a", "verse same", "C", "(c)", "(",
    ];

    private static readonly string[] Pieces =
    [
        " ", "a", "1", "(", "[", "-", ":", "x2", "verse  x", "[a", "(a", ", ", "a  ", "1/", "|", "#", "sus", "m", "2 x ", ". ",
        "play ", "C4",
    ];

    /// <summary>What the pattern itself looks for: its own words, alone and before what often stands behind a word.</summary>
    private static IEnumerable<string> OwnBeginnings(string pattern) =>
        Regex.Matches(pattern, @"(?<![\\{<a-z])[a-z]{3,}").Select(m => m.Value).Distinct().Take(6)
            .SelectMany(word => new[] { word, word + ":", word + " (" });

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
        var pattern = Compiled(made, TooLong);
        var patient = new Lazy<Regex>(() => Compiled(made, Patience));
        foreach (var beginning in Beginnings.Concat(OwnBeginnings(made.Pattern)))
            foreach (var piece in Pieces)
                foreach (var end in new[] { "!", "]x" })
                {
                    if (LooksQuickly(pattern, Line(beginning, piece, Short, end))) continue;
                    var line = Line(beginning, piece, Length, end);
                    // Other work can hold a thread up for longer than that: then what the thread itself worked decides.
                    Assert.True(Look(pattern, line) || Worked(patient.Value, line) < TooLong,
                        $"{name} takes too long on “{beginning}”, “{piece}” again and again, “{end}”.");
                }
    }

    private static string Line(string beginning, string piece, int length, string end) =>
        beginning + new StringBuilder().Insert(0, piece, length / piece.Length) + end;

    private static bool LooksQuickly(Regex pattern, string line)
    {
        var clock = Stopwatch.StartNew();
        return Look(pattern, line) && clock.Elapsed < Little;
    }

    /// <summary>The pattern, ready to look: what its first look compiles is no part of the look.</summary>
    private static Regex Compiled(GeneratedRegexAttribute made, TimeSpan longest)
    {
        var pattern = new Regex(made.Pattern, made.Options | RegexOptions.Compiled, longest);
        // Long enough for any pattern to begin with it.
        Look(pattern, new string(' ', 200) + "x");
        return pattern;
    }

    private static TimeSpan Worked(Regex pattern, string line) => ProcessorTime(() => Look(pattern, line));

    [Fact]
    public void Work_of_a_square_is_noticed_and_a_thread_that_only_waits_is_not()
    {
        var square = new Regex(@"(a*)\1[^a]", RegexOptions.Compiled, 8 * TooLong);
        Assert.True(ProcessorTime(() => Look(square, new string('a', Length))) > TooLong);
        Assert.False(LooksQuickly(square, new string('a', Short)));
        using var nobody = new ManualResetEventSlim();
        Assert.True(ProcessorTime(() => nobody.Wait(2 * TooLong)) < TooLong / 4);
    }

    /// <summary>True when the whole line was looked at in the time the pattern has.</summary>
    private static bool Look(Regex pattern, string line)
    {
        try
        {
            for (var m = pattern.Match(line); m is { Success: true, Length: > 0 }; m = m.NextMatch()) { }
            return true;
        }
        catch (RegexMatchTimeoutException) { return false; }
    }

    /// <summary>What this thread works for it, by the system's count in hundredths of a second.</summary>
    private static TimeSpan ProcessorTime(Action act)
    {
        static long Worked()
        {
            var stat = File.ReadAllText("/proc/thread-self/stat");
            // Behind the name, which may hold anything, the twelfth and thirteenth are the thread's own work and the system's.
            var fields = stat[(stat.LastIndexOf(')') + 2)..].Split(' ');
            return long.Parse(fields[11], CultureInfo.InvariantCulture) + long.Parse(fields[12], CultureInfo.InvariantCulture);
        }
        var before = Worked();
        act();
        return TimeSpan.FromMilliseconds(10 * (Worked() - before));
    }
}
