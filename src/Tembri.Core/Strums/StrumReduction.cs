namespace Tembri.Core.Strums;

/// <summary>Finds, among all that a rung may play, what keeps most of the feel: exactly, step by step over what matters for the
/// steps to come.</summary>
internal sealed class StrumReduction
{
    private static readonly FeelWeights W = FeelWeights.Default;
    private readonly StrumPattern _record;
    private readonly StrumRules _rules;
    private readonly List<HandStep>[] _options;
    private readonly int?[] _pushes;
    private readonly Dictionary<(int, ReductionState), (double Value, int Choice)> _best = [];

    private StrumReduction(StrumPattern record, StrumRules rules)
    {
        (_record, _rules) = (record, rules);
        _options = [.. Enumerable.Range(0, record.Steps.Count).Select(rules.OptionsAt)];
        _pushes = [.. Enumerable.Range(0, record.Steps.Count).Select(i => StrumFeel.PushedBeat(record, i))];
    }

    /// <summary>The best pattern of a rung.</summary>
    public static StrumPattern Of(StrumPattern record, StrumRules rules)
    {
        var reduction = new StrumReduction(record, rules);
        var state = ReductionState.Start;
        var steps = new HandStep[record.Steps.Count];
        for (var i = 0; i < steps.Length; i++)
        {
            steps[i] = reduction._options[i][reduction.Best(i, state).Choice];
            reduction.Go(state, i, steps[i], out state, out _);
        }
        return record.With(steps);
    }

    private (double Value, int Choice) Best(int i, ReductionState state)
    {
        if (i == _record.Steps.Count) return (End(state), -1);
        if (_best.TryGetValue((i, state), out var known)) return known;
        var best = (Value: double.NegativeInfinity, Choice: -1);
        for (var o = 0; o < _options[i].Count; o++)
        {
            if (!Go(state, i, _options[i][o], out var after, out var value)) continue;
            var sum = value + Best(i + 1, after).Value;
            if (sum > best.Value + 1e-9) best = (sum, o);
        }
        return _best[(i, state)] = best;
    }

    private bool Go(in ReductionState before, int i, HandStep q, out ReductionState after, out double value)
    {
        value = 0;
        if (!_rules.TryGo(before, i, q, out after)) return false;
        var p = _record.Steps[i];
        if (_record.Level(i) <= 1)
        {
            value += EndBeat(after);
            // What pushed this beat is heard in full only when the beat is not struck.
            if (i > 0 && after.Push == 1) value += W.Push * (q.Sounds ? W.PushFilled : 1);
            var isFill = q.Sounds && !p.Sounds && q.Stroke != Stroke.Pick;
            after = after with { Fill = isFill ? i > 0 && after.Push == 2 ? 1 : 2 : 0, Later = 0, Push = 0,
                First = i == 0 ? q.Sounds : after.First };
        }
        else
        {
            if (_pushes[i] is not null) after = after with { Push = q.Sounds ? 1 : 2 };
            if (p.Sounds || q.Sounds) after = after with { Later = q.Sounds ? 2 : Math.Max(after.Later, 1) };
        }
        if (q.Stroke == Stroke.Stop) value += p.Stroke == Stroke.Stop ? W.Stop : 0;
        else if (q.Sounds && (p.Sounds || q.Stroke == Stroke.Pick)) value += StrumFeel.OfStep(_record, i, q);
        else if (q.Sounds && _record.Level(i) > 1) value += W.Filled;
        return true;
    }

    private static double EndBeat(in ReductionState s) => s.Fill switch
    {
        0 => 0,
        1 => W.Moved,
        _ => s.Later == 1 ? W.Moved : W.Filled,
    };

    /// <summary>The cycle closes: a push at its end meets the first beat.</summary>
    private static double End(in ReductionState s) => EndBeat(s) + (s.Push == 1 ? W.Push * (s.First ? W.PushFilled : 1) : 0);
}
