using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Teaching;

/// <summary>What teachers say of ladders, read from <c>statements.txt</c> and held against the ladders.</summary>
public sealed partial class StatementTests
{
    private static readonly Dictionary<string, Player> Students = new()
    {
        ["a year in"] = new()
        {
            Skills = new()
            {
                Fingers = 50, Stretch = 45, ShortBarre = 40, FullBarre = 30, Muting = 45, Changes = 50, RightHand = 50
            }
        },
        ["a beginner"] = new(),
        ["somebody in first weeks"] = new()
        {
            Skills = new()
            {
                Fingers = 20, Stretch = 15, ShortBarre = 5, FullBarre = 0, Muting = 15, Changes = 10, RightHand = 20
            }
        },
        ["an able player"] = new()
        {
            Skills = new()
            {
                Fingers = 80, Stretch = 80, ShortBarre = 80, FullBarre = 80, Muting = 80, Changes = 80, RightHand = 80
            }
        },
        ["a child"] = new()
        {
            Hand = Hand.Preset("child"), Guitar = Guitar.Preset("three-quarter"), Barres = BarreGoal.Avoid,
            Skills = new()
            {
                Fingers = 30, Stretch = 25, ShortBarre = 10, FullBarre = 0, Muting = 20, Changes = 25, RightHand = 30
            }
        },
        ["who avoids barres"] = new() { Barres = BarreGoal.Avoid },
        ["who seeks barres"] = new() { Barres = BarreGoal.Seek, Skills = new() { FullBarre = 40, ShortBarre = 45 } },
    };

    private const string Usual = "a year in";

    [GeneratedRegex(@"^(?:rungs? (\d)(?: to (\d))?|(every rung)): (.+)$")]
    private static partial Regex OnRungs();

    public static TheoryData<string, string, string> Statements()
    {
        var data = new TheoryData<string, string, string>();
        var (song, chart, capo) = ("", new List<string>(), "");
        foreach (var line in File.ReadLines(
                Path.Combine(Repository.Folder, "tests", "Tembri.Core.Tests", "Teaching", "statements.txt"))
            .Where(l => l.Length > 0 && l[0] != '#'))
        {
            if (line.StartsWith("song: ", StringComparison.Ordinal)) (song, chart, capo) = (line[6..], [], "");
            else if (line == "- at capo 0") capo = "0";
            else if (line.StartsWith("- ", StringComparison.Ordinal))
                data.Add(song,
                    string.Join('\n', chart)
                        + (capo.Length > 0 && !line.Contains("capo", StringComparison.Ordinal) ? "\nat 0" : ""), line[2..]);
            else chart.Add(line);
        }
        return data;
    }

    [Fact]
    public void There_are_as_many_statements_as_a_teacher_would_make() =>
        Assert.True(Statements().Count >= 120, $"{Statements().Count} statements");

    [Theory]
    [MemberData(nameof(Statements))]
    public void A_teacher_expects(string song, string chart, string statement)
    {
        var player = Students[Usual];
        var said = statement;
        if (said.StartsWith("for ", StringComparison.Ordinal))
        {
            var who = Students.Keys.Single(k => said.StartsWith($"for {k}: ", StringComparison.Ordinal));
            (player, said) = (Students[who], said[(who.Length + 6)..]);
        }
        int? capo = chart.EndsWith("\nat 0", StringComparison.Ordinal) ? 0 : null;
        var graded = Ladder(chart.Replace("\nat 0", "", StringComparison.Ordinal), player, capo);
        var (ladder, because) = (graded.Ladder, $"{song}, capo {graded.Ladder.Capo}: {statement}");
        if (said.StartsWith("capo ", StringComparison.Ordinal))
            Assert.True(said[5..].Split(" or ").Select(c => int.Parse(c, CultureInfo.InvariantCulture)).Contains(ladder.Capo),
                because);
        else if (said.StartsWith("not capo ", StringComparison.Ordinal))
            Assert.True(ladder.Capo.ToString(CultureInfo.InvariantCulture) != said[9..], because);
        else if (said == "the rung to work on has no full barre")
            Assert.True(
                ladder.Played(graded.WorkingRung!.Value).Played.All(c => c.Choice.Fingering.LongestBarre <= Barre.LongestShort),
                because);
        else if (OnRungs().Match(said) is { Success: true } m)
        {
            var (from, to) = m.Groups[3].Success
                ? (1, 5)
                : (Number(m.Groups[1]), m.Groups[2].Success ? Number(m.Groups[2]) : Number(m.Groups[1]));
            for (var rung = from; rung <= to; rung++)
                Assert.True(Holds(graded, rung, m.Groups[4].Value, out var found), $"{because}; rung {rung}: {found}");
        }
        else Assert.Fail($"Nobody understands the statement: {statement}");
    }

    private static int Number(Group group) => int.Parse(group.Value, CultureInfo.InvariantCulture);

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<(string, Player, int?), StudentLadder> Ladders =
        new();

    private static StudentLadder Ladder(string chart, Player player, int? capo) => Ladders.GetOrAdd((chart, player, capo), _ =>
    {
        var reading = ChartReader.Read(chart);
        Assert.Empty(reading.Problems);
        return new StudentLadder(
            Known.Builder.Build(new ArrangementRequest { Chart = reading.Chart, Kind = player.Kind, Capo = capo }), player);
    });

    private static bool Holds(StudentLadder graded, int number, string said, out string found)
    {
        var ladder = graded.Ladder;
        found = "blocked";
        if (ladder.Rungs[number - 1] is not PlayableRung rung) return false;
        var fit = graded.FitOf(rung)!;
        found = $"{fit.Verdict}, {fit.Reason}";
        if (said == "is playable") return true;
        if (said == "is ready") return fit.Verdict == Verdict.Ready;
        if (said == "is not ready") return fit.Verdict != Verdict.Ready;
        if (said.StartsWith("is not ready, ", StringComparison.Ordinal))
            return fit.Verdict != Verdict.Ready && fit.Reason.ToString().Contains($"= {said[14..]},", StringComparison.Ordinal);
        if (said.EndsWith(" is heard", StringComparison.Ordinal))
        {
            var pair = said[..^9].Split(" to ").Select(name => Find(rung, name)).OfType<PlayedChord>().ToList();
            found = string.Join(", ", pair.Select(c => c.Choice.Fingering));
            return pair.Count < 2 || Tones(pair[0]) != Tones(pair[1]);
        }
        var space = said.IndexOf(' ', StringComparison.Ordinal);
        var chord = Find(rung, said[..space]) as PlayedChord;
        found = chord is null ? "left out" : $"{chord.Choice.Fingering} as {chord.Choice.Played}";
        if (chord is null) return said[(space + 1)..] is "is left out" || said[(space + 1)..] is not "stays";
        return Holds(graded, rung, chord, said[(space + 1)..]);
    }

    private static RungChord Find(PlayableRung rung, string name) =>
        rung.Chords.First(c => !c.IsSecond && c.ShapeChord.Name == Chord.Parse(name).Name);

    private static int Tones(PlayedChord c) => c.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard);

    private static bool Holds(StudentLadder graded, PlayableRung rung, PlayedChord c, string said)
    {
        var (asked, shape) = (c.ShapeChord, c.Choice.Fingering.Shape);
        bool Sounds(int above) => (Tones(c) & 1 << (asked.Root.PitchClass + above) % 12) != 0;
        var below =
            graded.Ladder.Rungs.Take(rung.Number - 1).OfType<PlayableRung>().LastOrDefault()?.Chords[c.Index] as PlayedChord;
        switch (said)
        {
            case "is whole":
                var strings = asked.Name switch { "G" or "E" or "Em" => 6, "D" or "Dm" => 4, _ => 5 };
                var added = shape.ToString().EndsWith("33", StringComparison.Ordinal) ? 0 : Tones(c) & ~asked.PitchClassMask;
                return shape.Sounding >= strings && shape.BassPitchClass(Tuning.Standard) == asked.BassPitchClass
                    && (asked.PitchClassMask & ~Tones(c)) == 0 && added == 0;
            case "holds its root": return Sounds(0);
            case "has its third": return Sounds(asked.IsMinor ? 3 : 4);
            case "has its bass": return shape.BassPitchClass(Tuning.Standard) == asked.BassPitchClass;
            case "has no barre": return c.Choice.Fingering.LongestBarre == 0;
            case "is not a seventh": return !Sounds(10);
            case "stays": return true;
            case "is left out": return false;
            case "stays under fret 5": return shape.HighestStopped <= 5;
            case "keeps its fingers":
                return below is null || !below.Choice.Fingering.Shape.Equals(shape) || below.Choice.SameAs(c.Choice);
            case "is not less close": return below is null || c.Choice.Closeness.Value >= below.Choice.Closeness.Value - 1e-9;
        }
        if (said.StartsWith("is not played as ", StringComparison.Ordinal)) return c.Choice.Played.Name != said[17..];
        if (said.StartsWith("is not ", StringComparison.Ordinal)) return shape.ToString() != said[7..];
        if (said.StartsWith("is ", StringComparison.Ordinal)) return said[3..].Split(" or ").Contains(shape.ToString());
        if (said.StartsWith("sounds ", StringComparison.Ordinal))
            return (Tones(c) & 1 << Chord.Parse(said[7..]).Root.PitchClass) != 0;
        throw new FormatException($"Nobody understands: {said}");
    }
}
