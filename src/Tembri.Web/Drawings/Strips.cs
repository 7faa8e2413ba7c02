using Tembri.Core.Arranging;
using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Students;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>A wedge that swells with a share: load, closeness and fit as ink.</summary>
public static class WedgeDrawing
{
    /// <summary>Draws it.</summary>
    /// <param name="share">0 to 1.</param>
    public static Scene Draw(double share)
    {
        var x = 2 + 70 * Math.Clamp(share, 0, 1);
        var half = 0.6 + 5.4 * Math.Clamp(share, 0, 1);
        return new Scene(74, 14, "", [new Line(2, 7, 72, 7, 0.8, Tone.Rule), new Area([(2, 7), (x, 7 - half), (x, 7 + half)])]);
    }
}

/// <summary>Steps, one a rung, five unless the teacher has others: solid when ready, outlined while growing, a thin line when
/// strained, broken when not possible.</summary>
public static class StepsDrawing
{
    /// <summary>Draws it.</summary>
    public static Scene Draw(LadderGrade grade)
    {
        var marks = new List<Mark>();
        for (var i = 0; i < grade.Rungs.Count; i++)
        {
            var (x, height) = (2 + i * 11.0, 6 + i * 16.0 / Math.Max(4, grade.Rungs.Count - 1));
            marks.Add(grade.Rungs[i]?.Verdict switch
            {
                Verdict.Ready => new Slab(x, 24 - height, 8, height, 0),
                Verdict.Growing => new Slab(x + 0.7, 24.7 - height, 6.6, height - 1.4, 0, Tone.Ink, 1.4),
                Verdict.Strained => new Line(x + 4, 24 - height, x + 4, 24, 1.2, Tone.Pencil),
                _ => new Line(x + 4, 24 - height, x + 4, 24, 1.2, Tone.Pencil, Broken: true),
            });
        }
        return new Scene(Math.Max(58, 3 + grade.Rungs.Count * 11), 26, Words(grade), marks);
    }

    /// <summary>The same in words.</summary>
    public static string Words(LadderGrade grade) =>
        string.Join(", ",
            grade.Rungs.Zip(grade.Numbers).Select(r => $"rung {RungLimits.LabelOf(r.Second)} {FitWords.Say(r.First?.Verdict)}"));
}

/// <summary>The form, drawn to length in beats.</summary>
public static class FormDrawing
{
    private const double Width = 700, LetterWidth = 7.2;

    /// <summary>Draws it.</summary>
    public static Scene Draw(Chart chart)
    {
        var parts = chart.Form.Select(p => (p.Section, p.Times, Played: chart.SectionNamed(p.Section)))
            .Select(p => (p.Section, p.Times, p.Played?.Kind, Beats: (p.Played?.Beats ?? 0) * p.Times))
            .Where(p => p.Beats > 0).ToList();
        var total = Math.Max(1, parts.Sum(p => p.Beats));
        var marks = new List<Mark>();
        var x = 0.0;
        var row = 0;
        foreach (var (section, times, kind, beats) in parts)
        {
            var width = Width * beats / total;
            marks.Add(new Slab(x + 1, 22, Math.Max(1, width - 2), kind == SectionKind.Chorus ? 7 : 3.5, 0));
            var text = times > 1 ? $"{section}, {times} times" : section;
            // A name that is longer than its part hangs one line lower.
            row = text.Length * LetterWidth > width ? 1 - row : 0;
            // One that would run over the edge ends there.
            var isOver = x + text.Length * LetterWidth > Width;
            marks.Add(new Label(isOver ? Width : x + 1, row == 1 ? 58 : 15, text, 14, Tone.Ink,
                isOver ? Anchor.End : Anchor.Start));
            marks.Add(new Label(x + 1, 43, beats.ToString("0.#", CultureInfo.InvariantCulture), 14, Tone.Pencil));
            x += width;
        }
        var words =
            $"Form in beats: {string.Join(", ", parts.Select(p => $"{p.Section} {p.Beats.ToString("0.#", CultureInfo.InvariantCulture)}"))}";
        return new Scene(Width + 2, marks.OfType<Label>().Any(l => l.Y > 50) ? 64 : 48, words, marks);
    }
}
