using System.Globalization;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;

namespace Tembri.Web.Words;

/// <summary>Says what stands on a ladder: its aim, the parts of a load, second shapes, what fingers do.</summary>
internal static class LadderWords
{
    /// <summary>What the place of a ladder was chosen for.</summary>
    public static string Aimed(Ladder ladder, Aim aim) => aim switch
    {
        Aim.Record => "with the record",
        Aim.Voice when ladder.VoiceShift != 0 =>
            $"{Math.Abs(ladder.VoiceShift)} {(Math.Abs(ladder.VoiceShift) == 1 ? "semitone" : "semitones")} "
                + $"{(ladder.VoiceShift > 0 ? "up" : "down")} for the voice",
        Aim.Voice => "where the voice has it",
        _ => "without a capo",
    };

    /// <summary>A distance in semitones, in words.</summary>
    public static string Semitones(int count) => count == 1 ? "a semitone" : $"{count} semitones";

    /// <summary>A distance along the neck, in words.</summary>
    public static string Frets(int count) => count == 1 ? "a fret" : $"{count} frets";

    /// <summary>What a place can be chosen for, offered.</summary>
    public static string Offer(Aim aim) => aim switch
    {
        Aim.Record => "keep the record’s pitch, capo where it helps",
        Aim.Voice => "move the song for the voice",
        _ => "no capo, practise the shapes as they come",
    };

    /// <summary>What a part of the load is.</summary>
    public static string Say(LoadPart part) => part.Kind switch
    {
        LoadPartKind.Fingers => part.Measure.ToString("0", CultureInfo.InvariantCulture)
            + (part.Measure == 1 ? " finger placed" : " fingers placed"),
        LoadPartKind.WeakFingers => "ring or little finger",
        LoadPartKind.Stretch => "reach along the neck",
        LoadPartKind.Barre => "a finger lying across",
        LoadPartKind.Crowding => "fingertips side by side",
        LoadPartKind.Crossing => "fingers crossed",
        LoadPartKind.Mutes => "strings to leave out",
        LoadPartKind.OpenStrings => "open strings to stay clear of",
        LoadPartKind.Thumb => "thumb over the neck",
        _ => "height on the neck",
    };

    /// <summary>How a second shape differs from the usual one, in a few words.</summary>
    public static string Second(PlayableRung rung, PlayedChord second, int below) =>
        second.Choice.Fingering.Shape.Equals(rung.PlayedAs(second.SongChord).Choice.Fingering.Shape)
        ? "fingers "
            + string.Join("-",
                second.Choice.Fingering.Fingers.Where(f => f != Finger.None)
                    .Select(f => f == Finger.Thumb ? "thumb" : ((int)f).ToString(CultureInfo.InvariantCulture)))
        : string.Join(" ",
            second.Choice.Fingering.Shape.Frets.Select(
                f => f < 0 ? "x" : (f == 0 ? 0 : f + below).ToString(CultureInfo.InvariantCulture)));

    /// <summary>What the fingers do in a change.</summary>
    public static string Say(Change change)
    {
        static string Names(IReadOnlyList<Finger> fingers) =>
            Lists.And([.. fingers.Select(f => f == Finger.Thumb ? "thumb" : ((int)f).ToString(CultureInfo.InvariantCulture))]);
        var words = new List<string>();
        if (change.Anchors.Count > 0) words.Add($"{Names(change.Anchors)} {(change.Anchors.Count == 1 ? "stays" : "stay")}");
        if (change.Guides.Count > 0) words.Add($"{Names(change.Guides)} {(change.Guides.Count == 1 ? "slides" : "slide")}");
        if (change.Moving.Count > 0) words.Add($"{Names(change.Moving)} {(change.Moving.Count == 1 ? "moves" : "move")}");
        if (change.Landing.Count > 0) words.Add($"{Names(change.Landing)} {(change.Landing.Count == 1 ? "lands" : "land")}");
        if (change.Lifting.Count > 0) words.Add($"{Names(change.Lifting)} {(change.Lifting.Count == 1 ? "lifts" : "lift")}");
        return words.Count == 0 ? "nothing moves" : string.Join(", ", words);
    }
}
