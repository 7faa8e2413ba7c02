using Tembri.Core.Arranging;

namespace Tembri.Core.Students;

/// <summary>What a student brings to every version, reckoned once: the factors by which skills multiply the odds of demands and
/// of late changes.</summary>
public sealed class PlayerOdds
{
    private readonly double[] _unclean;   // by technique

    /// <summary>Reckons a student.</summary>
    /// <param name="player">The student.</param>
    public PlayerOdds(Player player)
    {
        Barres = player.Barres;
        _unclean = [.. Enum.GetValues<Technique>().Select(t => FitModel.OddsOf(player.Skills[t]))];
        (Slowness, RightHand, Strum) =
            (player.ChangeSlowness, player.Skills.RightHand, FitModel.OddsOf(player.Skills.RightHand));
        Measured = player.Measured;
        Late = Math.Pow(Slowness, FitWeights.Default.TimeSteepness);
    }

    /// <summary>What the student wants with barres.</summary>
    public BarreGoal Barres { get; }

    /// <summary>The factor of a technique.</summary>
    /// <param name="technique">The technique.</param>
    public double this[Technique technique] => _unclean[(int)technique];

    /// <summary>How much longer than the reference player the student takes for a change.</summary>
    public double Slowness { get; }

    /// <summary>The factor of the odds that a change is late.</summary>
    public double Late { get; }

    /// <summary>What was measured of single shapes and changes.</summary>
    public Measured Measured { get; }

    /// <summary>What the right hand brings to the odds that a strum breaks off.</summary>
    public double Strum { get; }

    /// <summary>Skill of the right hand, 0 to 100.</summary>
    public double RightHand { get; }
}
