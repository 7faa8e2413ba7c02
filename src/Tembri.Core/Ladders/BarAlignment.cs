using System.Numerics;
using Tembri.Core.Chords;

namespace Tembri.Core.Ladders;

/// <summary>Sets the bars of a version beside those of the record.</summary>
internal static class BarAlignment
{
    private const long MostCells = 1_000_000;   // of the alignment; longer songs are matched bar by bar
    private const double ClearlyNearer = 0.2;   // of the tones: only then another pitch is meant
    private const double NearerByFar = 0.5;   // the same where the version says the key in which it would be with the record
    private const double Gap = 0.55;   // what a bar left out or put in costs, in bars that have nothing in common

    /// <summary>Share of the tones two chords have in common.</summary>
    private static double Alike(int a, int b) =>
        a == 0 || b == 0 ? 0 : BitOperations.PopCount((uint)(a & b)) / (double)BitOperations.PopCount((uint)(a | b));

    private static double Alike(PlayedMoment a, PlayedMoment b, IReadOnlyList<int> ofA, IReadOnlyList<int> ofB)
    {
        if (a.Chords.Count == 0 && b.Chords.Count == 0) return 1;
        return a.Chords.Sum(x =>
            b.Chords.Sum(y => Math.Max(0, Math.Min(x.To, y.To) - Math.Max(x.From, y.From)) * Alike(ofA[x.Chord], ofB[y.Chord])));
    }

    private static int[] Masks(IReadOnlyList<Chord> chords, int up = 0) =>
        [.. chords.Select(c => (c.PitchClassMask << up | c.PitchClassMask >> (12 - up)) & 0xFFF)];

    /// <summary>How far the version lies above the record, so that most of their tones meet; 0 unless another place is clearly
    /// nearer, by far where the version says the key of the record: a first rung whose chords are played by their relatives may
    /// meet more tones elsewhere.</summary>
    public static int NearestPitch(List<PlayedMoment> record, List<PlayedMoment> own, IReadOnlyList<Chord> asked,
        IReadOnlyList<Chord> played, bool isKeySaid)
    {
        var ours = Masks(played);
        double Score(int up)
        {
            var theirs = Masks(asked, up);
            var count = Math.Min(record.Count, own.Count);
            return count == 0 ? 0 : Enumerable.Range(0, count).Sum(i => Alike(record[i], own[i], theirs, ours)) / count;
        }
        var scores = Enumerable.Range(0, 12).Select(Score).ToArray();
        var best = Array.IndexOf(scores, scores.Max());
        return scores[best] > scores[0] + (isKeySaid ? NearerByFar : ClearlyNearer) ? best : 0;
    }

    /// <summary>Which bar of the version meets each bar of the record: the alignment that has most in common (Needleman and
    /// Wunsch, 1970).</summary>
    public static int?[] Of(List<PlayedMoment> record, List<PlayedMoment> own, IReadOnlyList<Chord> asked,
        IReadOnlyList<Chord> played)
    {
        var (n, m) = (record.Count, own.Count);
        if (n == m || (long)n * m > MostCells) return [.. Enumerable.Range(0, n).Select(i => i < m ? (int?)i : null)];
        var (theirs, ours) = (Masks(asked), Masks(played));
        var costs = new double[n + 1, m + 1];
        for (var i = 1; i <= n; i++) costs[i, 0] = i * Gap;
        for (var j = 1; j <= m; j++) costs[0, j] = j * Gap;
        for (var i = 1; i <= n; i++)
            for (var j = 1; j <= m; j++)
                costs[i, j] = Math.Min(costs[i - 1, j - 1] + 1 - Alike(record[i - 1], own[j - 1], theirs, ours),
                    Gap + Math.Min(costs[i - 1, j], costs[i, j - 1]));
        var met = new int?[n];
        for (int i = n, j = m; i > 0 && j > 0;)
        {
            if (costs[i, j] >= costs[i - 1, j - 1] + 1 - Alike(record[i - 1], own[j - 1], theirs, ours) - 1e-12) met[--i] = --j;
            else if (costs[i, j] >= costs[i - 1, j] + Gap - 1e-12) i--;
            else j--;
        }
        return met;
    }
}
