using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Music;

namespace Tembri.Web.Ladders;

/// <summary>The fields that say what a voice asks for: semitones, or what singer and tune reach. Semitones count when they are
/// filled in.</summary>
public sealed class VoiceForm
{
    public string? Semitones { get; set; }
    public string? SingerLow { get; set; }
    public string? SingerHigh { get; set; }
    public string? TuneLow { get; set; }
    public string? TuneHigh { get; set; }

    internal static VoiceForm From(VoiceWish wish) => new()
    {
        Semitones = wish.Semitones != 0 ? wish.Semitones.ToString(CultureInfo.InvariantCulture) : null,
        SingerLow = wish.Singer?.Low.ToString(), SingerHigh = wish.Singer?.High.ToString(), TuneLow = wish.Tune?.Low.ToString(),
        TuneHigh = wish.Tune?.High.ToString(),
    };

    /// <summary>Why it cannot be taken, with what to do; null when it can.</summary>
    internal string? Fault(Chart chart)
    {
        if (!IsEmpty(Semitones))
            return Moved is not null
                ? null
                : $"“{PlainText.Cut(Semitones!.Trim(), 12)}” is not a number of semitones; write one from −{VoiceWish.Farthest} "
                    + $"to {VoiceWish.Farthest}, such as -2.";
        if (IsEmpty(SingerLow) && IsEmpty(SingerHigh))
            return VoiceWish.Of(chart).IsSaid
                ? null
                : "Say how far to move the song for the voice: a number of semitones, or the lowest and the highest note the "
                    + "singer reaches.";
        if (Range(SingerLow, SingerHigh) is null)
            return "What the singer reaches is not clear; write the lowest and the highest note with their octaves, such as A2 "
                + "and E4. C4 is the middle C.";
        if (IsEmpty(TuneLow) && IsEmpty(TuneHigh) && chart.MelodyRange is not null) return null;
        return Range(TuneLow, TuneHigh) is not null
            ? null
            : "What the tune reaches is not clear; write its lowest and its highest note on the record, such as C3 and A4, or "
                + "take the tune down in the chart.";
    }

    /// <summary>As it is stored: voice and tune; nothing where it says what the chart says, so that it follows the
    /// chart.</summary>
    internal (string? Voice, string? Tune) Written(Chart chart) =>
        IsEmpty(Semitones) && IsEmpty(SingerLow) || SaysAs(From(VoiceWish.Of(chart))) ? (null, null)
        : Moved is { } moved ? (moved.ToString(CultureInfo.InvariantCulture), null)
        : (Range(SingerLow, SingerHigh)!.Value.ToString(),
            Range(TuneLow, TuneHigh) is { } tune && tune != chart.MelodyRange ? tune.ToString() : null);

    private bool SaysAs(VoiceForm other) =>
        (Semitones?.Trim() ?? "", Range(SingerLow, SingerHigh), Range(TuneLow, TuneHigh))
            == (other.Semitones ?? "", Range(other.SingerLow, other.SingerHigh), Range(other.TuneLow, other.TuneHigh));

    private int? Moved =>
        int.TryParse(Semitones?.Trim().Replace('−', '-'), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture,
                    out var moved) && Math.Abs(moved) <= VoiceWish.Farthest
            ? moved
            : null;

    private static bool IsEmpty(string? text) => string.IsNullOrWhiteSpace(text);

    private static PitchRange? Range(string? low, string? high) =>
        Pitch.TryParse(low?.Trim() ?? "", out var from) && Pitch.TryParse(high?.Trim() ?? "", out var to) && from.Midi <= to.Midi
            ? new PitchRange(from, to)
            : null;
}
