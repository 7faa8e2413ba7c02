using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>A version of a song as a step of the road.</summary>
/// <param name="Song">How the caller knows the song.</param>
/// <param name="Rung">Its rung's number.</param>
/// <param name="Outline">The version.</param>
/// <param name="Wished">True when the song is wished for.</param>
public sealed record RoadVersion(string Song, int Rung, VersionOutline Outline, bool Wished = false)
{
    private const double Hair = 1e-9;

    /// <summary>The most the version asks of a technique, on the scale of skills.</summary>
    /// <param name="technique">The technique; for changes the skill with which nine of ten come in time, for the right hand the
    /// load of its heaviest pattern at the song's tempo.</param>
    public double Asks(Technique technique) => technique switch
    {
        Technique.RightHand => Outline.Hand.Patterns.Select(p => p.Effort.LoadAt(Outline.Tempo)).DefaultIfEmpty().Max(),
        Technique.Changes =>
            Outline.Changes.Where(c => c.Seconds > 0 && c.FreeBeats > 0).Select(SkillFor).DefaultIfEmpty().Max(),
        _ => Outline.Chords.Where(c => c.Beats > 0).SelectMany(c => c.Demands).Where(d => d.Technique == technique)
            .Select(d => d.Points).DefaultIfEmpty().Max(),
    };

    private double SkillFor(OutlinedChange change) =>
        Math.Clamp(Core.Changes.ChangePace.SkillFor(change.Seconds, 60 / Outline.Tempo * change.FreeBeats / NeededForInTime), 0,
            100);

    /// <summary>How much longer there must be than is needed, for nine changes of ten to come in time.</summary>
    private static readonly double NeededForInTime = Math.Pow(
        FitModel.OddsOfLate(1, 1) / ((1 - FitWeights.Default.ComfortableInTime) / FitWeights.Default.ComfortableInTime),
        1 / FitWeights.Default.TimeSteepness);

    /// <summary>What a student does not have yet of the version, each with its weight in things, above 0.</summary>
    /// <param name="player">The student, reckoned.</param>
    /// <param name="skills">The student's skills.</param>
    /// <param name="weights">What things cost.</param>
    internal IEnumerable<(RoadThing Thing, double Weight)> NewFor(PlayerOdds player, Skills skills, RoadWeights weights)
    {
        var clean = Outline.Clean(player);
        var asked = new Dictionary<Technique, double>();
        var found = new Dictionary<RoadThing, double>();
        for (var i = 0; i < Outline.Chords.Count; i++)
        {
            var chord = Outline.Chords[i];
            if (chord.Beats <= 0 || clean[i] >= LearningOrder.KnownFrom) continue;
            if (chord.Shape is { } shape)
            {
                var thing = new ShapeThing(shape);
                found[thing] = Math.Max(found.GetValueOrDefault(thing),
                    weights.Shape * (LearningOrder.KnownFrom - clean[i]) / LearningOrder.KnownFrom);
            }
            foreach (var demand in chord.Demands)
                asked[demand.Technique] = Math.Max(asked.GetValueOrDefault(demand.Technique), demand.Points);
        }
        foreach (var (technique, points) in asked) AddLevels(technique, points, weights.TechniqueLevel);
        if (Outline.Strummed(player) < LearningOrder.KnownFrom)
            AddLevels(Technique.RightHand, Asks(Technique.RightHand), weights.RightHandLevel);
        for (var i = 0; i < Outline.Changes.Count; i++)
        {
            var change = Outline.Changes[i];
            var available = 60 / Outline.Tempo * change.FreeBeats;
            if (change.Seconds <= 0 || available <= 0 || Outline.Chords[change.From].Shape is not { } from
                || Outline.Chords[change.To].Shape is not { } to)
                continue;
            // In time is nine of ten; every level from the first that is not in time yet to the one the song asks.
            var enough = Outline.Needed(i, player) * NeededForInTime;
            for (var level = ChangeThing.LevelOf(available); ChangeThing.SecondsOf(level) < enough - Hair; level--)
                found[ChangeThing.Between(from, to, level)] = weights.ChangeLevel;
        }
        return found.Select(f => (f.Key, f.Value));

        void AddLevels(Technique technique, double points, double weight)
        {
            for (var level = TechniqueThing.Step; level <= points; level += TechniqueThing.Step)
                if (level > skills[technique]) found[new TechniqueThing(technique, level)] = weight;
        }
    }

    /// <summary>What the version plays, learnt or not: its shapes.</summary>
    internal IEnumerable<Shape> Shapes => Outline.Chords.Where(c => c.Beats > 0).Select(c => c.Shape).OfType<Shape>().Distinct();
}
