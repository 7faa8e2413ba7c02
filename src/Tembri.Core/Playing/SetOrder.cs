using Tembri.Core.Charts;

namespace Tembri.Core.Playing;

/// <summary>The order of a set: how long songs take, and how often the capo moves between them.</summary>
public static class SetOrder
{
    /// <summary>How long a song takes as its form has it, at the record's tempo, with what is held and slowed, s.</summary>
    public static double Seconds(Chart chart) =>
        chart.PlayedBars().Sum(b => b.Beats * b.Meter.BeatInQuarters / Performance.PaceOf(b)) * 60
            / (chart.Tempo * chart.Meter.BeatInQuarters);

    /// <summary>How often the capo is moved, put on or taken off between one song and the next.</summary>
    public static int CapoMoves(IReadOnlyList<int> capos)
    {
        var moves = 0;
        for (var i = 1; i < capos.Count; i++) if (capos[i] != capos[i - 1]) moves++;
        return moves;
    }

    /// <summary>The order with the fewest moves of the capo that changes the given one least: songs of one capo come together,
    /// where their first one stands.</summary>
    /// <param name="capos">The capo of each song, in the given order.</param>
    /// <returns>Places in the given order.</returns>
    public static IReadOnlyList<int> FewestMoves(IReadOnlyList<int> capos) =>
        [.. capos.Select((c, i) => (Capo: c, At: i)).GroupBy(x => x.Capo).OrderBy(g => g.First().At)
            .SelectMany(g => g.Select(x => x.At))];
}
