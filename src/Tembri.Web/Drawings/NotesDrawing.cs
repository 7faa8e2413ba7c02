using Tembri.Core.Music;
using Tembri.Web.Words;

namespace Tembri.Web.Drawings;

/// <summary>How strong each of the twelve notes sounds over a bar, with what the written and the heard chord have beside
/// them.</summary>
internal static class NotesDrawing
{
    private const double Row = 13, Column = 14, Names = 26, Foot = 20;

    /// <summary>A note by itself: as the key spells it, but a white key by its plain letter.</summary>
    public static string Name(int pitchClass, Key key, NoteNames names)
    {
        var plain = "C D EF G A B"[pitchClass];
        return plain == ' ' ? NoteNaming.Named(key.Spell(pitchClass).ToString(), names) : plain.ToString();
    }

    /// <summary>Draws: a row a note, time to the right, a disc the larger the stronger; beats stand below, and the chord that is
    /// looked at is underlined.</summary>
    /// <param name="course">Strengths from stretch to stretch of the bar, twelve each from C, the strongest 1; one alone is
    /// drawn all along.</param>
    /// <param name="place">Beats of the bar before the chord, with it, and in all.</param>
    /// <param name="written">Pitch classes of the written chord, bit n for n.</param>
    /// <param name="heard">Those of the heard one.</param>
    /// <param name="key">The key of the chart: it spells them.</param>
    /// <param name="names">How notes are written.</param>
    public static Scene Draw(IReadOnlyList<IReadOnlyList<double>> course, (double From, double To, double Beats) place,
        int written, int heard, Key key, NoteNames names)
    {
        const int Columns = 16;
        double width = Columns * Column, height = 12 * Row;
        var marks = new List<Mark>();
        double X(double beats) => Names + width * beats / place.Beats;
        for (var p = 0; p < 12; p++)
        {
            var y = (11 - p + 0.5) * Row;
            var (isHeard, isWritten) = ((heard >> p & 1) == 1, (written >> p & 1) == 1);
            marks.Add(new Line(Names, y, Names + width, y, 0.5, Tone.Rule));
            marks.Add(
                new Label(Names - 8, y + 4, Name(p, key, names), 11, isHeard ? Tone.Ink : Tone.Pencil, Anchor.End, isHeard));
            for (var i = 0; i < Columns; i++)
                if (course[i * course.Count / Columns][p] is > 0.06 and var strength)
                    marks.Add(new Disc(Names + (i + 0.5) * Column, y, 0.48 * Row * Math.Min(1, strength),
                        isHeard || isWritten ? Tone.Ink : Tone.Pencil));
            if (isWritten) marks.Add(new Disc(Names + width + 12, y, 4, Tone.Ink, 1.2));
            if (isHeard) marks.Add(new Disc(Names + width + 12, y, isWritten ? 2 : 4));
        }
        for (var beat = 0; beat < place.Beats; beat++)
        {
            marks.Add(new Line(X(beat), height, X(beat), height + 4, 1, Tone.Pencil));
            marks.Add(new Label(X(beat) + 2, height + 14, (beat + 1).ToString(System.Globalization.CultureInfo.InvariantCulture),
                11, Tone.Pencil));
        }
        marks.Add(new Line(X(place.From) + 1, height + 1, X(place.To) - 1, height + 1, 2.5, Tone.Ink));
        var strongest =
            Enumerable.Range(0, 12).OrderByDescending(p => course.Sum(c => c[p])).Take(4).Select(p => Name(p, key, names));
        return new Scene(Names + width + 20, height + Foot, $"Strongest in this bar: {string.Join(", ", strongest)}", marks);
    }
}
