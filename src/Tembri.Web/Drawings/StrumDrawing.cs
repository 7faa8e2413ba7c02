using Tembri.Core.Strums;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>A pattern of the right hand: the hand's swing with its strokes or picked strings, and the count beneath.</summary>
public static class StrumDrawing
{
    private const double Wide = 46, Narrow = 30;   // a step
    private const int MostWide = 8;
    private const double Left = 18, Middle = 40, Reach = 27, CountAt = 92;

    /// <summary>Draws it; two long bars stand below each other. Soft and loud have the letters that players know from notes, p
    /// and f, and lighter and heavier strokes.</summary>
    public static Scene Draw(StrumPattern pattern, Loudness loudness = Loudness.Usual)
    {
        if (pattern.Bars == 1 || pattern.Steps.Count <= MostInRow) return Row(pattern, 0, pattern.Steps.Count, loudness);
        var half = pattern.Steps.Count / 2;
        var (first, second) = (Row(pattern, 0, half, loudness), Row(pattern, half, half, loudness));
        return new Scene(first.Width, 2 * first.Height + 8, Say(pattern, loudness),
            [new Inset(0, 0, first), new Inset(0, first.Height + 8, second)]);
    }

    private const int MostInRow = 16;

    private static Scene Row(StrumPattern pattern, int from, int steps, Loudness loudness)
    {
        var weight = loudness switch { Loudness.Soft => 0.6, Loudness.Loud => 1.5, _ => 1 };
        var step = steps > MostWide ? Narrow : Wide;
        var marks = new List<Mark> { new Curve(Swing(pattern, step, steps), 1, Tone.Rule) };
        if (loudness != Loudness.Usual && from == 0)
            marks.Add(new Label(0, 16, loudness == Loudness.Soft ? "p" : "f", 19, Tone.Ink, Anchor.Start, true));
        var count = pattern.Count;
        for (var i = from; i < from + steps; i++)
        {
            var x = Left + (i - from) * step;
            if (i > from && pattern.Level(i) == 0)
                marks.Add(new Line(x - step / 2, 8, x - step / 2, CountAt + 4, 1.6, Tone.Pencil));
            if (pattern.IsFree) Arrow(marks, x, pattern.Steps[i].Stroke == Stroke.Down, 1.2, Tone.Pencil);
            else Add(marks, pattern.Steps[i], x, step, weight);
            var onBeat = i % pattern.StepsPerBeat == 0;
            if (onBeat || pattern.Steps[i].Sounds || step == Wide)
                marks.Add(new Label(x, CountAt, count[i], 16, onBeat ? Tone.Ink : Tone.Pencil, Anchor.Middle, onBeat));
        }
        return new Scene(Left + steps * step, CountAt + 6, Say(pattern, loudness), marks);
    }

    private static string Say(StrumPattern pattern, Loudness loudness) =>
        $"{StrumWords.Name(pattern)}: "
            + $"{string.Join(", ", pattern.Steps.Select((s, i) => $"{pattern.Count[i]} {Word(s)}"))}{(pattern.Swing == StrumPattern.Straight ? "" : $"; the beat swings, {pattern.Swing} percent before its and")}{loudness switch { Loudness.Soft => "; softly", Loudness.Loud => "; loud", _ => "" }}";

    /// <summary>The way of the hand: down on the beats, up between them.</summary>
    private static List<(double, double)> Swing(StrumPattern pattern, double step, int steps)
    {
        var depth = pattern.StepsPerBeat == 3 || pattern.IsPicked ? 0 : 13;
        var period = pattern.StepsPerBeat == 1 ? 1.0 : 2.0;
        return [.. Enumerable.Range(0, steps * 8 + 1)
            .Select(i => (Left - 4 + i / 8.0 * step, Middle - depth * Math.Cos(2 * Math.PI * i / 8.0 / period)))];
    }

    private static void Add(List<Mark> marks, HandStep step, double x, double width, double heavy)
    {
        var weight = heavy * (step.Accent ? 4.5 : 2.2);
        switch (step.Stroke)
        {
            case Stroke.Down or Stroke.Up: Arrow(marks, x, step.Stroke == Stroke.Down, weight, Tone.Ink); break;
            case Stroke.Muted:
                marks.Add(new Line(x, Middle - Reach, x, Middle + Reach, weight));
                marks.Add(new Line(x - 6, Middle - 6, x + 6, Middle + 6, 2));
                marks.Add(new Line(x - 6, Middle + 6, x + 6, Middle - 6, 2));
                break;
            case Stroke.Miss: marks.Add(new Line(x, Middle - 24, x, Middle + 24, 1.6, Tone.Pencil, Broken: true)); break;
            case Stroke.Stop: marks.Add(new Slab(x - 6, Middle - 6, 12, 12, 0, Tone.Ink, 2)); break;
            case Stroke.Pick: Picks(marks, step, x); break;
            default: marks.Add(new Line(x, Middle, x + width * 0.55, Middle, 1, Tone.Pencil)); break;
        }
    }

    /// <summary>Picked strings: the thumb's below, filled; the fingers' above, the highest string on top.</summary>
    private static void Picks(List<Mark> marks, HandStep step, double x)
    {
        var order = step.Picks.OrderBy(p => p is 'b' ? 9 : p is 'a' ? 8 : p - '0').ToList();
        for (var i = 0; i < order.Count; i++)
        {
            var y = order[i] is 'b' or 'a' ? Middle + 22 : Middle - 24 + 15 * Math.Min(3, order[i] - '1');
            var thumb = order[i] is 'b' or 'a' or >= '4';
            marks.Add(new Disc(x, y, 9.5, Tone.Paper));
            marks.Add(thumb ? new Disc(x, y, 9.5) : new Disc(x, y, 9, Tone.Ink, step.Accent ? 3 : 1.6));
            marks.Add(new Label(x, y + 5, order[i] switch { 'b' => "B", 'a' => "b", var n => n.ToString() }, 15,
                thumb ? Tone.Paper : Tone.Ink, Anchor.Middle, true));
        }
    }

    private static string Word(HandStep step) =>
        StrumWords.Say(step with { Accent = false }) + (step.Accent ? ", leaned on" : "");

    private static void Arrow(List<Mark> marks, double x, bool isDown, double weight, Tone tone)
    {
        var (from, to) = isDown ? (Middle - Reach - 1, Middle + Reach - 1) : (Middle + Reach + 1, Middle - Reach + 1);
        var back = Math.Sign(from - to) * 8;
        marks.Add(new Line(x, from, x, to, weight, tone));
        marks.Add(new Line(x - 5, to + back, x, to, 1.8, tone));
        marks.Add(new Line(x + 5, to + back, x, to, 1.8, tone));
    }
}
