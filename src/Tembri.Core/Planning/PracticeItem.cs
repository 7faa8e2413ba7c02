using Tembri.Core.Practice;
using Tembri.Core.Shapes;

namespace Tembri.Core.Planning;

/// <summary>Names of what can be practised: the same thing has the same name in plans, in logs and from day to day.</summary>
public static class PracticeItem
{
    /// <summary>A shape by itself.</summary>
    public static string Shape(Shape shape) => $"shape:{shape}";

    /// <summary>A change.</summary>
    public static string Change(Shape from, Shape to) => $"change:{from}>{to}";

    /// <summary>A pattern of the right hand.</summary>
    public static string Strum(string notation) => $"strum:{notation}";

    /// <summary>A figure of a section.</summary>
    public static string Figure(string song, int section, int number) => $"figure:{song}:{section}:{number}";

    /// <summary>A section of a song.</summary>
    public static string Section(string song, int section) => $"section:{song}:{section}";

    /// <summary>The whole song.</summary>
    public static string Form(string song) => $"form:{song}";

    /// <summary>What begins every day.</summary>
    public const string WarmUp = "warm-up";
}

/// <summary>On which days something was practised, and whether it went.</summary>
/// <remarks>
/// What was learnt comes back before it is lost, after longer and longer intervals (Cepeda, Pashler, Vul, Wixted &amp; Rohrer
/// 2006, Psychological Bulletin 132): each day on which it went lengthens the interval, a day
/// on which it did not begins again.
/// </remarks>
public sealed class PracticeDays
{
    private const double Went = 0.8;   // share of tries from which a day counts as one on which it went
    private readonly Dictionary<string, SortedDictionary<DateOnly, bool>> _days = [];

    /// <summary>Adds a day; one on which it went once, went.</summary>
    public void Add(string item, DateOnly day, bool went)
    {
        if (!_days.TryGetValue(item, out var days)) _days[item] = days = [];
        days[day] = days.TryGetValue(day, out var before) ? before || went : went;
    }

    /// <summary>Takes what a log says of shapes and changes.</summary>
    /// <param name="evidence">The log.</param>
    /// <param name="changeWent">Whether a count of clean changes a minute is enough, by the shapes.</param>
    public static PracticeDays From(IEnumerable<Evidence> evidence, Func<Shape, Shape, double, bool> changeWent)
    {
        var days = new PracticeDays();
        foreach (var e in evidence)
        {
            if (e is Trials { Shape: { } shape } t) days.Add(PracticeItem.Shape(shape), Day(e.At), t.Clean >= Went * t.Tries);
            else if (e is ChangeCount { Between: { } pair } c)
                days.Add(PracticeItem.Change(pair.From, pair.To), Day(e.At),
                    changeWent(pair.From, pair.To, 60 * c.Count / c.Seconds));
        }
        return days;
    }

    /// <summary>The day of a moment.</summary>
    public static DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(at.Date);

    /// <summary>The last day something was practised; null for never.</summary>
    public DateOnly? Last(string item) => _days.TryGetValue(item, out var days) ? days.Keys.Last() : null;

    /// <summary>Days in a row, up to the last, on which it went.</summary>
    public int InARow(string item) =>
        _days.TryGetValue(item, out var days) ? days.Values.Reverse().TakeWhile(went => went).Count() : 0;

    /// <summary>A copy to plan ahead with.</summary>
    public PracticeDays Copy()
    {
        var copy = new PracticeDays();
        foreach (var (item, days) in _days) copy._days[item] = new SortedDictionary<DateOnly, bool>(days);
        return copy;
    }
}
