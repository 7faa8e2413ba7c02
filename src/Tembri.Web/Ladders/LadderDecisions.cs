using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;
using Tembri.Data.Ladders;

namespace Tembri.Web.Ladders;

/// <summary>Decisions that several pages of a ladder offer.</summary>
internal static class LadderDecisions
{
    /// <summary>Takes a shape for a chord: on a rung, on it and those above, or in every song of the student or the
    /// studio.</summary>
    /// <param name="decision">What is written.</param>
    /// <param name="open">The ladder.</param>
    /// <param name="rung">The rung's number.</param>
    /// <param name="chord">Which chord of the song.</param>
    /// <param name="taken">The shape and its fingers.</param>
    /// <param name="scope">How far it goes.</param>
    public static void Take(Decision decision, OpenLadder open, int rung, int chord, Fingering taken, WishScope scope)
    {
        var ladder = open.Ladder;
        var (limits, sounding, tonic) = (ladder.Find(rung)!.Limits, ladder.Flow.Chords[chord], ladder.ShapeKey.Tonic.PitchClass);
        var (degree, strings) = (sounding.DegreeIn(ladder.Chart.Key), LadderDesk.StringsOf(open.Request));
        if (scope is WishScope.Student or WishScope.Studio)
        {
            var (name, span) = (sounding.Transpose(ladder.Chart.Key, ladder.ShapeKey).Name, RungSpan.Up(limits.Height));
            var grip = new OwnGrip(name, taken.Shape.Frets, [.. taken.Fingers.Select(f => (int)f)], span, Always: true);
            var wider = scope == WishScope.Studio ? open.StudioWishes : open.StudentWishes;
            decision.Wider = new WiderChange(scope == WishScope.Studio, TeacherWishes.None with { Grips = [grip] },
                TeacherWishes.None with { Grips = [.. wider.Grips.Where(g => g.Chord == name && g.Rungs.Meets(span))] });
            // What was taken for this ladder alone would stand before it.
            decision.Locks.RemoveAll(l => l.Chord == degree && l.ShapeTonic == tonic && l.Strings == strings
                && ladder.Find(l.Rung) is { } at && span.Holds(at.Limits.Height));
            return;
        }
        foreach (var number in ladder.Rungs.Where(
                r => r.Number == rung || scope == WishScope.Up && r.Limits.Height > limits.Height).Select(r => r.Number))
        {
            var locked =
                decision.Locks.Find(l => l.Rung == number && l.Chord == degree && l.ShapeTonic == tonic && l.Strings == strings);
            if (locked is null)
                decision.Locks.Add(locked = new LockedShape
                {
                    SongId = open.Song.Id, StudentId = open.Student.Id, Rung = number, Chord = degree, Frets = [], Fingers = []
                });
            (locked.Capo, locked.Tuning, locked.Strings, locked.ShapeTonic) =
                (ladder.Capo, decision.Choice.Tuning, strings, tonic);
            (locked.Frets, locked.Fingers) = ([.. taken.Shape.Frets], [.. taken.Fingers.Select(f => (int)f)]);
        }
        decision.Choice.BringCapo(ladder.Capo);
    }

    /// <summary>Plays another rung of the right hand in one section on a rung.</summary>
    public static void Hand(Decision decision, RungLimits limits, string section, int hand)
    {
        var others = decision.Wishes.Hands.Where(h => h.Section != section || h.Rungs != RungSpan.Only(limits.Height));
        decision.Wishes = decision.Wishes with { Hands = hand == limits.StrumRung
            ? [.. others]
            : [.. others, new HandWish(section, hand, RungSpan.Only(limits.Height))] };
    }

    /// <summary>Frets or fingers between commas; null where the text is something else.</summary>
    public static int[]? Numbers(string? text)
    {
        var parts = (text ?? "").Split(',');
        var numbers = new int[parts.Length];
        for (var i = 0; i < parts.Length; i++)
            if (!int.TryParse(parts[i], System.Globalization.NumberStyles.AllowLeadingSign,
                System.Globalization.CultureInfo.InvariantCulture, out numbers[i]))
                return null;
        return numbers;
    }

    /// <summary>A shape of six strings by its frets; null when the text is none.</summary>
    public static Shape? ShapeOf(string? frets) =>
        Numbers(frets) is { Length: 6 } f && f.All(n => n is >= -1 and <= Shape.HighestFret) && f.Any(n => n >= 0)
            ? new Shape(f)
            : null;

    /// <summary>A fingered shape as a form sends it, weighed for the student's hand; null when it is none, or this hand cannot
    /// do it.</summary>
    public static Fingering? FingeringOf(string? frets, string? fingers, OpenLadder open)
    {
        if (ShapeOf(frets) is not { } shape || Numbers(fingers) is not { Length: 6 } g || g.Any(n => n is < 0 or > 5))
            return null;
        var kind = open.Request.Kind;
        return new FingeringFinder(new NeckGeometry(kind.Guitar, open.Ladder.Capo), kind.Hand, kind.Thumb)
            .Weigh(shape, [.. g.Select(n => (Finger)n)]);
    }
}
