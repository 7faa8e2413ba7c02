namespace Tembri.Core.Students;

/// <summary>The main thing that stands between a student and a version.</summary>
public abstract record FitReason
{
    /// <summary>What costs the version most beats.</summary>
    /// <param name="fit">The fit.</param>
    /// <param name="outline">The version.</param>
    /// <param name="player">The student.</param>
    /// <param name="weakest">The weakest link, as an index of a chord or of a change, where there is one.</param>
    internal static FitReason Of(VersionFit fit, VersionOutline outline, Player player, (int? Chord, int? Change)? weakest)
    {
        if (weakest is { Chord: { } weak }) return Hard(weak);
        if (weakest is { Change: { } slow }) return Late(fit.Changes[slow]);
        var total = Math.Max(1, outline.TotalBeats);
        var (chord, unclean) =
            outline.Chords.Select((c, i) => (Index: i, Lost: (1 - fit.Clean[i]) * c.Beats)).MaxBy(x => x.Lost);
        var (change, late) = fit.Changes.Select(c => (Change: (FittedChange?)c, Lost: (1 - c.InTime) * c.Count))
            .OrderByDescending(x => x.Lost).FirstOrDefault();
        var most = Math.Max(unclean, late) / total;
        if (1 - fit.Strummed > Math.Max(FitWeights.Default.LeastInTheWay, most))
            return new StrumIsHard(outline.StrumLoad, player.Skills.RightHand);
        if (most < FitWeights.Default.LeastInTheWay) return new WithinReach(outline.Tempo);
        return change is not null && late >= unclean ? Late(change) : Hard(chord);

        ChangeIsLate Late(FittedChange c) =>
            new(outline.Chords[c.From].Name, outline.Chords[c.To].Name, c.NeededSeconds, c.AvailableSeconds, outline.Tempo);

        ShapeIsHard Hard(int index)
        {
            var most = outline.Chords[index].Demands.DefaultIfEmpty(new Demand(Technique.Fingers, 0))
                .MaxBy(d => d.Points - player.Skills[d.Technique]);
            return new ShapeIsHard(outline.Chords[index].Name, most.Technique, most.Points, player.Skills[most.Technique],
                fit.Clean[index] < FitWeights.Default.LeastClean);
        }
    }
}

/// <summary>The strum asks more than the right hand has.</summary>
/// <param name="Load">Load of the strum at the tempo, 0 to 100.</param>
/// <param name="Skill">Skill of the right hand, 0 to 100.</param>
public sealed record StrumIsHard(double Load, double Skill) : FitReason;

/// <summary>Nothing stands in the way.</summary>
/// <param name="Tempo">Beats a minute.</param>
public sealed record WithinReach(double Tempo) : FitReason;

/// <summary>A change comes late.</summary>
/// <param name="From">Name of the chord left, at the pitch of the shapes.</param>
/// <param name="To">Name of the chord reached.</param>
/// <param name="NeededSeconds">Time the student needs, s.</param>
/// <param name="AvailableSeconds">Time there is, s.</param>
/// <param name="Tempo">Beats a minute.</param>
public sealed record ChangeIsLate(string From, string To, double NeededSeconds, double AvailableSeconds,
    double Tempo) : FitReason;

/// <summary>A shape asks more of a technique than the student has.</summary>
/// <param name="Chord">Name of the chord, at the pitch of the shapes.</param>
/// <param name="Technique">The technique.</param>
/// <param name="Asked">What the shape asks, 0 to 100.</param>
/// <param name="Skill">The student's skill, 0 to 100.</param>
/// <param name="NotCleanYet">True when it sounds clean more seldom than in two tries of three, which no slower tempo
/// mends.</param>
public sealed record ShapeIsHard(string Chord, Technique Technique, double Asked, double Skill,
    bool NotCleanYet = false) : FitReason;
