namespace Tembri.Core.Figures;

/// <summary>What the way of a figure over the neck costs, and how heavy it is. Read from <c>figure-weights.data.json</c>, where
/// each number has its reason.</summary>
public sealed record FigureWeights
{
    private static readonly Lazy<FigureWeights> Shipped =
        new(() => EmbeddedData.Json<FigureWeights>("figure-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static FigureWeights Default => Shipped.Value;

    /// <summary>For a note by the little finger.</summary>
    public required double Little { get; init; }

    /// <summary>For a note by the ring finger.</summary>
    public required double Ring { get; init; }

    /// <summary>For each fret above the next number.</summary>
    public required double Height { get; init; }

    /// <summary>The fret from which it is high.</summary>
    public required double HeightFrom { get; init; }

    /// <summary>For each newton that presses the string.</summary>
    public required double Force { get; init; }

    /// <summary>For the hand going to another position at all.</summary>
    public required double Shift { get; init; }

    /// <summary>For each millimetre it goes.</summary>
    public required double ShiftMm { get; init; }

    /// <summary>Share of a shift that is left when an open string rings meanwhile.</summary>
    public required double OpenShift { get; init; }

    /// <summary>Share of a shift that is left when the finger slides on its string.</summary>
    public required double GuidedShift { get; init; }

    /// <summary>Seconds from note to note at which a movement costs what it says; quicker ones cost more, slower ones
    /// less.</summary>
    public required double UsualSeconds { get; init; }

    /// <summary>Most and least times a movement counts for its pace.</summary>
    public required IReadOnlyList<double> PaceBounds { get; init; }

    /// <summary>For one finger that has to leap to another string.</summary>
    public required double Leap { get; init; }

    /// <summary>For each string the picking hand goes.</summary>
    public required double StringStep { get; init; }

    /// <summary>For a stretch beyond what is comfortable, as a share of the room up to the greatest.</summary>
    public required double Stretch { get; init; }

    /// <summary>For a finger that reaches a fret out of its position.</summary>
    public required double Reach { get; init; }

    /// <summary>For a note that is in the chord shape around it, below 0.</summary>
    public required double InShape { get; init; }

    /// <summary>For a finger of the shape that has to leave its place.</summary>
    public required double LeavesShape { get; init; }

    /// <summary>For bending with index or little finger.</summary>
    public required double WeakBend { get; init; }

    /// <summary>Effort per note a second.</summary>
    public required double NotesASecond { get; init; }

    /// <summary>Effort per square of the notes a second beyond the next number.</summary>
    public required double Quick { get; init; }

    /// <summary>Notes a second from which it becomes quick.</summary>
    public required double QuickFrom { get; init; }

    /// <summary>Effort per cost of the way a second.</summary>
    public required double Way { get; init; }

    /// <summary>Effort per note to keep in mind.</summary>
    public required double Remember { get; init; }

    /// <summary>Effort per ornament a second.</summary>
    public required double Ornament { get; init; }
}
