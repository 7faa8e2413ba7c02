using Tembri.Core.Practice;

namespace Tembri.Core.Planning;

/// <summary>A day that is being filled: it keeps to its minutes and to those of barres and stretches.</summary>
internal sealed class DayInMaking(PlanRequest request, DateOnly on)
{
    private static readonly PlanWeights W = PlanWeights.Default;
    private readonly List<PlanItem> _items = [];
    private int _hard = PracticePlan.HardMinutes(request.Skills, request.AgeGroup, request.Hurts);

    /// <summary>Minutes of the day.</summary>
    public int Budget => request.MinutesADay;

    private int Left => Budget - _items.Sum(i => i.Minutes);

    /// <summary>Adds an item when it is not there yet and there is room; barres and stretches only within their dose. What the
    /// teacher fixed comes whatever the time, but not against the dose.</summary>
    public bool Add(PlanItem item)
    {
        if (_items.Exists(i => i.Key == item.Key)) return false;
        var minutes = Math.Min(item.Minutes, item.IsHardOnTheHand ? _hard : item.Minutes);
        if (!item.IsFixed) minutes = Math.Min(minutes, Left);
        if (minutes <= 0) return false;
        if (item.IsHardOnTheHand) _hard -= minutes;
        _items.Add(item with { Minutes = minutes });
        return true;
    }

    /// <summary>Gives what is left over to what puts most together: the form, then sections, the right hand, changes, shapes, in
    /// turn.</summary>
    public void SpendTheRest()
    {
        PlanKind[] order = [PlanKind.Form, PlanKind.Section, PlanKind.Strum, PlanKind.Figure, PlanKind.Pair, PlanKind.Shape];
        bool MayGrow(PlanItem item) => !item.IsHardOnTheHand && item.Minutes < Longest(item.Kind);
        while (Left > 0
            && order.FirstOrDefault(k => _items.Exists(i => i.Kind == k && MayGrow(i)), PlanKind.Own) is not PlanKind.Own
                and var kind)
            foreach (var next in order.SkipWhile(k => k != kind))
            {
                var at = _items.FindIndex(i => i.Kind == next && MayGrow(i));
                if (at >= 0 && Left > 0) _items[at] = _items[at] with { Minutes = _items[at].Minutes + 1 };
            }
    }

    // Nobody repeats one change for ten minutes with profit; a whole song may be played three times.
    private int Longest(PlanKind kind) =>
        kind switch
        {
            PlanKind.Form => Math.Max(8, Budget / 2),
            PlanKind.Section => Math.Max(5, Budget / 3),
            PlanKind.Strum or PlanKind.Figure or PlanKind.Pair => 4,
            _ => 3
        };

    /// <summary>The day, in order, with its breaks.</summary>
    public PlanDay Finish()
    {
        int Rank(PlanItem item) => request.Wishes.First.ToList().IndexOf(item.Key) is >= 0 and var first
            ? first - request.Wishes.First.Count
            : item.Kind switch
        {
            PlanKind.WarmUp => -1000,
            PlanKind.Own => 0,
            _ when item.Why is ComesBack => 1,
            var kind => 1 + (int)kind,
        };
        var items =
            _items.Select((item, i) => (item, i)).OrderBy(x => Rank(x.item)).ThenBy(x => x.i).Select(x => x.item).ToList();
        var (breaks, since) = (new List<int>(), 0);
        var most = request.AgeGroup == AgeGroup.Child ? W.MinutesToBreakChild : W.MinutesToBreak;
        for (var i = 0; i < items.Count - 1; i++)
        {
            since += items[i].Minutes;
            if (since + items[i + 1].Minutes <= most) continue;
            breaks.Add(i);
            since = 0;
        }
        return new PlanDay(on, items, breaks);
    }
}
