using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Formats.Scores;

/// <summary>A measure of MusicXML as it stands on the page, before repeats and jumps are followed.</summary>
internal sealed class ScoreMeasure
{
    /// <summary>Its number as printed.</summary>
    public required string Number { get; init; }

    /// <summary>Its line in the file, from 1.</summary>
    public required int Line { get; init; }

    /// <summary>The meter in force.</summary>
    public Meter Meter { get; set; }

    /// <summary>The name of the section that begins here.</summary>
    public string? Section { get; set; }

    /// <summary>True when a new system begins here.</summary>
    public bool StartsLine { get; set; }

    /// <summary>True when a repeat goes back to here.</summary>
    public bool RepeatFrom { get; set; }

    /// <summary>How often what is repeated up to here is played; 0 when nothing is.</summary>
    public int RepeatTimes { get; set; }

    /// <summary>True when the repeat that ends here is played even after a jump back.</summary>
    public bool RepeatsAfterJump { get; set; }

    /// <summary>The passes this measure belongs to, when it stands under an ending.</summary>
    public IReadOnlyList<int> Endings { get; set; } = [];

    /// <summary>The passes of the ending that begins here.</summary>
    public IReadOnlyList<int>? EndingStart { get; set; }

    /// <summary>True when an ending is closed here.</summary>
    public bool EndingStops { get; set; }

    /// <summary>What is to be done here about the order of playing.</summary>
    public ScoreJump Jumps { get; set; }

    /// <summary>Chords with the beat they come at.</summary>
    public List<(double At, Slot Slot)> Chords { get; } = [];

    /// <summary>Words sung, with the beat they are sung at and the number of their verse, from 1.</summary>
    public List<(double At, int Verse, string Text)> Words { get; } = [];

    /// <summary>The tune.</summary>
    public List<MelodyNote> Tune { get; } = [];

    /// <summary>Words above the staff that are neither names nor jumps.</summary>
    public List<string> Remarks { get; } = [];

    /// <summary>Words before the first chord.</summary>
    public string Lead { get; set; } = "";

    /// <summary>Length of its notes in beats.</summary>
    public double Length { get; set; }
}

/// <summary>Signs that send a player elsewhere.</summary>
[Flags]
internal enum ScoreJump
{
    /// <summary>None.</summary>
    None = 0,
    /// <summary>The sign that D.S. goes back to.</summary>
    Segno = 1,
    /// <summary>From the sign, once this measure has been played.</summary>
    DalSegno = 2,
    /// <summary>From the beginning, once this measure has been played.</summary>
    DaCapo = 4,
    /// <summary>The end, after a jump back.</summary>
    Fine = 8,
    /// <summary>To the coda, after a jump back.</summary>
    ToCoda = 16,
    /// <summary>Where the coda begins.</summary>
    Coda = 32,
    /// <summary>A coda sign of which nothing says whether it leads to the coda or begins it.</summary>
    CodaSign = 64,
}
