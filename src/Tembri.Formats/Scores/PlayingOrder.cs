using Tembri.Core.Charts;

namespace Tembri.Formats.Scores;

/// <summary>The order in which the measures of a score are played: repeats, endings, D.C., D.S., Fine and Coda
/// followed.</summary>
/// <remarks>After a jump back repeats are played once, with their last ending, unless the score says otherwise, but for those
/// of the coda; each jump is made once. These are the usual rules of engraving.</remarks>
internal sealed class PlayingOrder
{
    private readonly IReadOnlyList<ScoreMeasure> _measures;
    private readonly Action<ScoreMeasure, string> _problem;
    private readonly List<(ScoreMeasure Measure, int Pass, bool Arrived)> _played = [];
    private readonly HashSet<int> _jumped = [];
    private int[] _lastPass = [];
    private int _from, _pass = 1;
    private bool _isBack;

    private PlayingOrder(IReadOnlyList<ScoreMeasure> measures, Action<ScoreMeasure, string> problem) =>
        (_measures, _problem) = (measures, problem);

    /// <summary>Follows a score.</summary>
    /// <param name="measures">The measures as they stand.</param>
    /// <param name="problem">Told of signs that lead nowhere.</param>
    /// <returns>Measures in playing order, the how-manieth time each is played, from 1, and whether it was jumped to.</returns>
    public static IReadOnlyList<(ScoreMeasure Measure, int Pass, bool Arrived)> Of(IReadOnlyList<ScoreMeasure> measures,
        Action<ScoreMeasure, string> problem)
    {
        var order = new PlayingOrder(measures, problem);
        order.SpreadEndings();
        order._lastPass = order.LastPasses();
        order.TellCodaSigns();
        order.Follow();
        return order._played;
    }

    /// <summary>An ending reaches until it is closed, a repeat ends in it, or the next one begins.</summary>
    private void SpreadEndings()
    {
        IReadOnlyList<int> ending = [];
        foreach (var measure in _measures)
        {
            if (measure.EndingStart is { } starts) ending = starts;
            else if (measure.RepeatFrom) ending = [];
            measure.Endings = ending;
            if (measure.EndingStops || measure.RepeatTimes > 0) ending = [];
        }
        // An ending that nobody closed and no repeat ends in is the last one: it has one measure, and what follows is for
        // everybody.
        for (var at = 0; at < _measures.Count; at++)
        {
            if (_measures[at].EndingStart is null) continue;
            var end = at;
            while (end + 1 < _measures.Count && _measures[end + 1].EndingStart is null && _measures[end + 1].Endings.Count > 0)
                end++;
            if (!_measures[end].EndingStops && _measures[end].RepeatTimes == 0)
                for (var open = at + 1; open <= end; open++) _measures[open].Endings = [];
        }
    }

    /// <summary>Of bare coda signs the last one begins the coda and those before lead to it.</summary>
    private void TellCodaSigns()
    {
        var signs = _measures.Where(m => m.Jumps.HasFlag(ScoreJump.CodaSign)).ToList();
        var begins = _measures.Any(m => m.Jumps.HasFlag(ScoreJump.Coda));
        foreach (var sign in signs)
            sign.Jumps |= !begins && ReferenceEquals(sign, signs[^1]) ? ScoreJump.Coda : ScoreJump.ToCoda;
    }

    private void Follow()
    {
        var times = new Dictionary<ScoreMeasure, int>();
        var arrived = false;
        for (var at = 0; at < _measures.Count && _played.Count < ChartLimits.MostBars;)
        {
            var measure = _measures[at];
            if (measure.RepeatFrom && at != _from) (_from, _pass) = (at, 1);
            if (measure.Endings.Count > 0 && !measure.Endings.Contains(_isBack ? _lastPass[at] : _pass)) { at++; continue; }
            times[measure] = times.GetValueOrDefault(measure) + 1;
            _played.Add((measure, times[measure], arrived));
            var next = Next(at);
            if (next is null) break;
            arrived = next != at + 1;
            at = next.Value;
        }
    }

    /// <summary>The measure after one that was just played; null at the end.</summary>
    private int? Next(int at)
    {
        var measure = _measures[at];
        var passes = measure.RepeatTimes == 0 ? 1 : measure.Endings.Count > 0 ? _lastPass[at] : measure.RepeatTimes;
        if (measure.RepeatTimes > 0 && _pass < passes && (!_isBack || measure.RepeatsAfterJump))
        {
            _pass++;
            return _from;
        }
        if (_isBack && measure.Jumps.HasFlag(ScoreJump.Fine)) return null;
        if (_isBack && measure.Jumps.HasFlag(ScoreJump.ToCoda))
        {
            if (Find(ScoreJump.Coda, at + 1) is { } coda)
            {
                // What is played for the first time is played as it stands.
                _isBack = false;
                return Go(coda);
            }
            _problem(measure, $"Measure {measure.Number} sends to a coda, but none follows; it is played straight on.");
        }
        if ((measure.Jumps & (ScoreJump.DalSegno | ScoreJump.DaCapo)) != 0 && _jumped.Add(at) && Back(at) is { } back)
        {
            _isBack = true;
            return Go(back);
        }
        var leaves = measure.RepeatTimes > 0
            || measure.Endings.Count > 0 && (at + 1 >= _measures.Count || _measures[at + 1].Endings.Count == 0);
        if (leaves) (_from, _pass) = (at + 1, 1);
        return at + 1;
    }

    private int Go(int to)
    {
        (_from, _pass) = (to, 1);
        return to;
    }

    private int? Back(int at)
    {
        if (_measures[at].Jumps.HasFlag(ScoreJump.DaCapo)) return 0;
        if (Find(ScoreJump.Segno, 0) is { } segno && segno <= at) return segno;
        _problem(_measures[at],
            $"Measure {_measures[at].Number} says D.S., but no sign stands before it to go back to; it is played straight on.");
        return null;
    }

    private int? Find(ScoreJump sign, int from)
    {
        for (var i = from; i < _measures.Count; i++) if (_measures[i].Jumps.HasFlag(sign)) return i;
        return null;
    }

    /// <summary>For each measure under an ending the last pass of the endings that stand together; a single first ending asks
    /// for a second pass without it.</summary>
    private int[] LastPasses()
    {
        var passes = new int[_measures.Count];
        for (var first = 0; first < _measures.Count; first++)
        {
            if (_measures[first].Endings.Count == 0) continue;
            var last = first;
            while (last + 1 < _measures.Count && _measures[last + 1].Endings.Count > 0 && !_measures[last + 1].RepeatFrom)
                last++;
            var group = Enumerable.Range(first, last - first + 1).ToList();
            var most = group.SelectMany(i => _measures[i].Endings).Max();
            Array.Fill(passes, group.Count(i => _measures[i].EndingStart is not null) == 1 ? most + 1 : Math.Max(2, most), first,
                group.Count);
            first = last;
        }
        return passes;
    }
}
