namespace Tembri.Core.Arranging;

/// <summary>Weights of the arranger's sum, in load points.</summary>
public static class ArrangerWeights
{
    /// <summary>Per second a change takes, so that parked and guide fingers are preferred.</summary>
    public const double ChangeSecond = 12;

    /// <summary>Per second a change is late.</summary>
    public const double LateSecond = 60;

    /// <summary>For a chord whose shape differs from the rung below.</summary>
    public const double Newness = 3.0;

    /// <summary>For leaving off a bass that moves by step.</summary>
    public const double BrokenBassLine = 5;

    /// <summary>Share of a change's sound that is lost when both chords are played by one and the same shape.</summary>
    public const double UnheardChange = 0.5;

    /// <summary>What a second fingering of a chord's shape must save to be worth learning.</summary>
    public const double SecondFingering = 0.5;

    /// <summary>What a second shape of a chord must save to be worth learning.</summary>
    public const double SecondShape = 1.5;

    /// <summary>Share of a chord's weight that every chord has alike, however short it is.</summary>
    public const double EvenShare = 0.4;
}
