using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;

namespace Tembri.Web.Ladders;

/// <summary>Reads a version that was typed: a chart, and shapes one a line.</summary>
internal static class HandReading
{
    /// <summary>Lines of shapes that are read at most.</summary>
    public const int MostShapes = 60;

    /// <summary>Reads and weighs a version.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="chartText">The chart.</param>
    /// <param name="capo">The capo.</param>
    /// <param name="shapes">Shapes, one a line: a chord, its frets and perhaps its fingers, each by string from the
    /// lowest.</param>
    /// <param name="rightHand">The rung whose strum is played; null for that of the rung it is compared with.</param>
    /// <param name="open">The song's ladder for the student.</param>
    /// <param name="results">Where shapes are kept.</param>
    /// <returns>The version, or why it cannot be; and what was not understood in it.</returns>
    public static (HandMade? Made, string? Fault, IReadOnlyList<string> Doubts) Read(string name, string chartText, int capo,
        string shapes, int? rightHand, OpenLadder open, ResultCache results)
    {
        var reading = ChartReader.Read(chartText);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is not null)
            return (null, "The version has no chord yet. Type its bars, such as | G | Em7 | Cadd9 | D |.", []);
        var doubts = reading.Problems.Take(5).Select(p => $"Line {p.Line}: {p.Message}").ToList();
        var held = new Dictionary<string, Fingering>();
        var guitar = open.Request.Kind.Guitar;
        var finder =
            new FingeringFinder(new Core.Fretboard.NeckGeometry(guitar, capo), open.Request.Kind.Hand, open.Request.Kind.Thumb);
        foreach (var (line, number) in shapes.ReplaceLineEndings("\n").Split('\n').Select((l, i) => (l.Trim(), i + 1))
            .Where(l => l.Item1.Length > 0).Take(MostShapes))
        {
            var parts = line.Split([' ', '\t', ':', '='], StringSplitOptions.RemoveEmptyEntries);
            if (parts.Length is < 2 or > 3 || !Chord.TryParse(parts[0], out var chord) || FretsOf(parts[1]) is not { } shape)
            {
                doubts.Add($"Shape {number}: write a chord and its frets from the lowest string, such as “F xx3211”.");
                continue;
            }
            var fingering = parts.Length == 3
                ? FingersOf(parts[2], shape) is { } fingers ? finder.Weigh(shape, fingers) : null
                : finder.Best(shape);
            if (fingering is null)
            {
                doubts.Add($"Shape {number}: {open.Student.Nickname}’s hand cannot hold "
                    + $"{shape}{(parts.Length == 3 ? " with these fingers" : "")}; another shape of {chord!.Name} is used.");
                continue;
            }
            held[chord!.Name] = fingering;
        }
        foreach (var name2 in held.Keys.Where(k => reading.Chart.Chords.All(c => c.Name != k)))
            doubts.Add($"{name2} is not in the version’s bars.");
        try
        {
            var strum = rightHand ?? Math.Clamp((int)(open.Ladder.Find(open.WorkingRung ?? 0)?.Limits.StrumRung ?? 3), 1, 5);
            var made = HandMade.Of(new HandWriting(name, reading.Chart, capo, held, strum), open.Request, open.Ladder, results);
            doubts.AddRange(made.Unheld.Select(c => $"No shape of {c.Name} fits this hand; give one."));
            return (made, null, doubts);
        }
        catch (ArgumentException)
        {
            return (null, "None of these chords can be held by this hand at this capo. Give shapes for them, or another capo.",
                doubts);
        }
    }

    private static Shape? FretsOf(string text)
    {
        try { return Shape.Parse(text) is { StringCount: 6 } shape && shape.Sounding > 0 ? shape : null; }
        catch (FormatException) { return null; }
    }

    private static Finger[]? FingersOf(string text, Shape shape)
    {
        if (text.Length != 6) return null;
        var fingers = new Finger[6];
        for (var s = 0; s < 6; s++)
            switch (text[s])
            {
                case 'x' or 'X' or '0' or '-' when shape[s] <= 0: break;
                case >= '1' and <= '4': fingers[s] = (Finger)(text[s] - '0'); break;
                case 'T' or 't': fingers[s] = Finger.Thumb; break;
                default: return null;
            }
        return fingers;
    }

    /// <summary>A rung's shapes as lines to type on.</summary>
    public static string Lines(PlayableRung rung) =>
        string.Join("\n", rung.Played.Where(c => !c.IsSecond).DistinctBy(c => c.Choice.Played.Name)
        .Select(c =>
            $"{c.Choice.Played.Name} {c.Choice.Fingering.Shape} "
                + $"{string.Concat(c.Choice.Fingering.Fingers.Select((f, s) => c.Choice.Fingering.Shape[s] < 0 ? "x" : f == Finger.Thumb ? "T" : $"{(int)f}"))}"));
}
