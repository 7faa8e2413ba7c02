using Tembri.Core.Charts;

namespace Tembri.Core.Hearing;

/// <summary>Compares the form that is played with the one that is written, section by section.</summary>
internal static class FormComparer
{
    /// <summary>What is played though it is not written, and written though not played: the fewest bars that make one of the
    /// other (the longest common row of sections; Wagner &amp; Fischer 1974).</summary>
    public static IReadOnlyList<FormChange> Compare(Chart chart, IReadOnlyList<HeardBar> bars)
    {
        var written = chart.PlayedPlaces().ToList();
        var (n, m) = (written.Count, bars.Count);
        var cost = new int[n + 1, m + 1];
        for (var i = n; i >= 0; i--)
            for (var j = m; j >= 0; j--)
            {
                if (i == n || j == m) { cost[i, j] = n - i + m - j; continue; }
                cost[i, j] = Math.Min(cost[i + 1, j], cost[i, j + 1]) + 1;
                if (Same(i, j)) cost[i, j] = Math.Min(cost[i, j], cost[i + 1, j + 1]);
            }
        var changes = new List<FormChange>();
        for (int i = 0, j = 0; i < n || j < m;)
        {
            if (i < n && j < m && Same(i, j) && cost[i, j] == cost[i + 1, j + 1]) (i, j) = (i + 1, j + 1);
            else if (j < m && (i == n || cost[i, j] == cost[i, j + 1] + 1))
                Add(FormChangeKind.More, bars[j].Section, bars[j++].Start);
            else Add(FormChangeKind.Less, written[i++].Section, j < m ? bars[j].Start : m > 0 ? bars[^1].End : 0);
        }
        return changes;

        bool Same(int i, int j) => written[i] == (bars[j].Section, bars[j].Bar);

        void Add(FormChangeKind kind, int section, double at)
        {
            if (changes.Count > 0 && changes[^1] is var last && last.Kind == kind && last.Section == section)
                changes[^1] = last with { Bars = last.Bars + 1 };
            else changes.Add(new FormChange(kind, section, 1, at));
        }
    }
}
