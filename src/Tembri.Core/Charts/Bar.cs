using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>A bar.</summary>
/// <param name="Meter">Its meter.</param>
/// <param name="Slots">Its chords in order; never empty.</param>
/// <param name="StartsLine">True when a new line of the chart begins here.</param>
/// <param name="Lead">Words before the first chord.</param>
public sealed record Bar(Meter Meter, IReadOnlyList<Slot> Slots, bool StartsLine = false, string Lead = "")
{
    /// <summary>Marks a bar is held by when its last chord rings on for as long again.</summary>
    public const string Hold = "hold";

    /// <summary>Marks a bar that is followed by a bar's pause.</summary>
    public const string Pause = "pause";

    /// <summary>Marks a bar in which the tempo slows down.</summary>
    public const string Slow = "slow";

    /// <summary>What is to be done in this bar besides the chords: <see cref="Hold"/>, <see cref="Pause"/>, <see cref="Slow"/>,
    /// or words of the teacher's own.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>The tune, where it was taken down; notes in order.</summary>
    public IReadOnlyList<MelodyNote> Melody { get; init; } = [];

    /// <summary>Where the text has it; null for a bar that was not read from chart text.</summary>
    public BarSpan? Span { get; init; }

    /// <summary>Length in beats, as its chords have it.</summary>
    public double Beats => Slots.Sum(s => s.Beats);

    /// <summary>Pitch classes of the tune that meet a stretch of the bar, bit n for pitch class n. A note that only grazes the
    /// stretch does not count.</summary>
    /// <param name="from">Beats from the start of the bar.</param>
    /// <param name="to">Where the stretch ends.</param>
    public int MelodyMask(double from, double to)
    {
        var mask = 0;
        foreach (var note in Melody)
        {
            var shared = Math.Min(to, note.At + note.Beats) - Math.Max(from, note.At);
            if (shared > 0.25 || shared > 0 && note.At >= from) mask |= 1 << note.Pitch.Midi % 12;
        }
        return mask;
    }
}
