using System.Globalization;
using Tembri.Core.Classes;
using Tembri.Core.Music;

namespace Tembri.Web.Drawings;

/// <summary>What each key gives a class: a post as high as the fit of whoever is worst off, with a stroke at the mean of
/// all.</summary>
public static class ClassKeysDrawing
{
    private const double Column = 92, Height = 190, Top = 30, Foot = 46, Post = 34;

    /// <summary>Draws it.</summary>
    /// <param name="sheet">The class.</param>
    /// <param name="names">How keys are named.</param>
    /// <param name="address">Where the class is looked at in another key.</param>
    public static Scene Draw(ClassSheet sheet, NoteNames names, Func<int, string> address)
    {
        var marks = new List<Mark>();
        var keys = sheet.Keys.OrderBy(k => k.Semitones).ToList();
        double Y(double share) => Top + (Height - Top - Foot) * (1 - share);
        marks.Add(new Line(0, Y(0), Column * keys.Count, Y(0), 1, Tone.Rule));
        for (var i = 0; i < keys.Count; i++)
        {
            var (key, middle) = (keys[i], Column * (i + 0.5));
            var chosen = key.Semitones == sheet.Semitones;
            var inside = new List<Mark> { new Slab(Column * i, 0, Column, Height, 0, Tone.Clear) };
            if (key.Worst is { } worst)
            {
                inside.Add(new Slab(middle - Post / 2, Y(worst), Post, Y(0) - Y(worst), 0,
                    chosen ? Tone.Accent : key.Unreached ? Tone.Rule : Tone.Ink));
                inside.Add(new Line(middle - Post, Y(key.Sum / sheet.Parts.Count), middle + Post, Y(key.Sum / sheet.Parts.Count),
                    2.2, Tone.Pencil));
                inside.Add(new Label(middle, Y(Math.Max(worst, key.Sum / sheet.Parts.Count)) - 7, Percent(worst), 15,
                    chosen ? Tone.Accent : Tone.Ink, Anchor.Middle, Bold: chosen));
            }
            else inside.Add(new Label(middle, Y(0) - 8, "not all", 14, Tone.Pencil, Anchor.Middle));
            inside.Add(new Label(middle, Height - 24, key.Key.Named(names).ToString(), 16, chosen ? Tone.Accent : Tone.Ink,
                Anchor.Middle, Bold: chosen));
            inside.Add(new Label(middle, Height - 6,
                key.Unreached ? "beyond the voice"
                    : key.Semitones == 0 ? "the record"
                    : key.Semitones.ToString("+0;−0", CultureInfo.InvariantCulture), 14, Tone.Pencil, Anchor.Middle));
            marks.Add(new Link(address(key.Semitones), Words(key, names), chosen, inside));
        }
        return new Scene(Column * keys.Count, Height,
            "The worst fit in each key. " + string.Join(". ", keys.Select(k => Words(k, names))) + ".", marks);
    }

    private static string Words(ClassKey key, NoteNames names) =>
        $"{key.Key.Named(names)}: "
            + $"{(key.Worst is { } worst ? $"the worst off {Percent(worst)}" : "not everybody can play")}{(key.Unreached ? ", beyond the voice" : "")}";

    private static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{100 * share:0} %");
}
