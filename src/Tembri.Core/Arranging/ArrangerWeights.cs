namespace Tembri.Core.Arranging;

/// <summary>Weights of the arranger's sum, in load points. Read from <c>arranger-weights.data.json</c>, where each number has
/// its reason.</summary>
public sealed record ArrangerWeights
{
    private static readonly Lazy<ArrangerWeights> Shipped =
        new(() => EmbeddedData.Json<ArrangerWeights>("arranger-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static ArrangerWeights Default => Shipped.Value;

    /// <summary>Per second a change takes, so that anchor and guide fingers are preferred.</summary>
    public required double ChangeSecond { get; init; }

    /// <summary>Per second a change is late: five times as much, since it is heard.</summary>
    public required double LateSecond { get; init; }

    /// <summary>Share of the two above on the rung as recorded, which is played as it is.</summary>
    public required double RecordChangeWeight { get; init; }

    /// <summary>Beats a minute at which lateness is reckoned when shapes are chosen, whatever the song's tempo.</summary>
    public required double ReferenceTempo { get; init; }

    /// <summary>For a chord whose shape differs from the rung below: what is learnt stays where nothing is gained.</summary>
    public required double Newness { get; init; }

    /// <summary>For the shape of the rung below with other fingers: a hand that has learnt a shape keeps its fingers unless the
    /// changes pay clearly.</summary>
    public required double Refingered { get; init; }

    /// <summary>For another way to play a chord than the grip a teacher calls her own.</summary>
    public required double OtherThanOwnGrip { get; init; }

    /// <summary>Share of a change's sound that is lost when both chords are played by one and the same shape.</summary>
    public required double UnheardChange { get; init; }

    /// <summary>The least weight of the sound with which an unheard change counts.</summary>
    public required double UnheardWeight { get; init; }

    /// <summary>Share of its time that a passing chord keeps when it is left out: it still sounds on the record.</summary>
    public required double KeptOfLeftOut { get; init; }

    /// <summary>What a second fingering of a chord's shape must save to be worth learning.</summary>
    public required double SecondFingering { get; init; }

    /// <summary>What a second shape of a chord must save to be worth learning.</summary>
    public required double SecondShape { get; init; }

    /// <summary>Share of a chord's weight that every chord has alike, however short it is.</summary>
    public required double EvenShare { get; init; }

    /// <summary>For a full barre, to a student who wants to do without.</summary>
    public required double BarreAvoided { get; init; }

    /// <summary>For a full barre, to a student who practises them.</summary>
    public required double BarreSought { get; init; }

    /// <summary>Closeness below the nearest possible that still counts as the record where a hand cannot play it in
    /// full.</summary>
    public required double NearEnough { get; init; }
}
