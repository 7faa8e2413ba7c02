using Tembri.Core.Charts;
using Tembri.Core.Planning;

namespace Tembri.Web.Practice;

/// <summary>What a teacher can do to a plan.</summary>
public enum PlanAct
{
    LeaveOut,
    PutBack,
    Fix,
    Unfix,
    First,
    NotFirst,
    Move,
    MoveBack,
    RemoveOwn,
}

/// <summary>Changes of a plan's wishes.</summary>
internal static class PlanEdits
{
    /// <summary>Does one thing to one item.</summary>
    /// <param name="wishes">The wishes until now.</param>
    /// <param name="act">What is done.</param>
    /// <param name="key">The item.</param>
    /// <param name="from">The day it stands on, to move it.</param>
    /// <param name="to">The day it goes to.</param>
    public static PlanWishes Do(PlanWishes wishes, PlanAct act, string key, DateOnly? from = null,
        DateOnly? to = null) => act switch
    {
        PlanAct.LeaveOut => wishes with { LeftOut = With(wishes.LeftOut, key), Fixed = Without(wishes.Fixed, key),
            Moved = [.. wishes.Moved.Where(m => m.Key != key)] },
        PlanAct.PutBack => wishes with { LeftOut = Without(wishes.LeftOut, key) },
        PlanAct.Fix => wishes with { Fixed = With(wishes.Fixed, key), LeftOut = Without(wishes.LeftOut, key) },
        PlanAct.Unfix => wishes with { Fixed = Without(wishes.Fixed, key) },
        PlanAct.First => wishes with { First = [key, .. Without(wishes.First, key)] },
        PlanAct.NotFirst => wishes with { First = Without(wishes.First, key) },
        PlanAct.Move when from is { } a && to is { } b
            && a
                != b => wishes with { Moved = [
                    .. wishes.Moved.Where(m => m.Key != key || m.To != a).TakeLast(PlanWishes.Most - 1),
                    new MovedItem(key, a, b)] },
        PlanAct.MoveBack => wishes with { Moved = [.. wishes.Moved.Where(m => m.Key != key)] },
        PlanAct.RemoveOwn => wishes with { Own = [.. wishes.Own.Where(o => $"own:{o.Id}" != key)] },
        _ => wishes,
    };

    /// <summary>Adds something the teacher wrote; null with a fault when it cannot be.</summary>
    public static PlanWishes? Add(PlanWishes wishes, string? text, int minutes, out string? fault)
    {
        var words = PlainText.OneLine(text ?? "");
        fault = words.Length is 0 or > PlanWishes.LongestText ? $"Write what to do in 1 to {PlanWishes.LongestText} letters."
            : minutes is < 1 or > PlanWishes.MostMinutes ? $"Minutes are 1 to {PlanWishes.MostMinutes}."
            : wishes.Own.Count >= PlanWishes.Most ? $"There are {PlanWishes.Most} already; take one out first." : null;
        return fault is null
            ? wishes with { Own = [.. wishes.Own, new OwnItem(Guid.CreateVersion7().ToString("N"), words, minutes)] }
            : null;
    }

    /// <summary>Wishes without those that lie in the past.</summary>
    public static PlanWishes Tidy(PlanWishes wishes, DateOnly today) =>
        wishes with { Moved = [.. wishes.Moved.Where(m => m.From >= today || m.To >= today)] };

    private static List<string> With(IReadOnlyList<string> keys, string key) =>
        [.. keys.Where(k => k != key).TakeLast(PlanWishes.Most - 1), key];

    private static List<string> Without(IReadOnlyList<string> keys, string key) => [.. keys.Where(k => k != key)];
}
