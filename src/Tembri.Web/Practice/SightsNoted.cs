namespace Tembri.Web.Practice;

/// <summary>Somebody looked at what is kept of a student, on a day.</summary>
internal readonly record struct Sight(Guid Studio, Guid Student, DateOnly Day, string Who, string What);

/// <summary>Which sights this process wrote down today already, so that nothing is asked of the database for them again. Only a
/// saving: a sight that is forgotten here is written again, once.</summary>
internal sealed class SightsNoted
{
    private const int Most = 20_000;
    private readonly Lock _lock = new();
    private readonly HashSet<Sight> _noted = [];
    private DateOnly _day;

    public bool Has(in Sight sight)
    {
        lock (_lock) return _noted.Contains(sight);
    }

    public void Add(in Sight sight)
    {
        lock (_lock)
        {
            if (sight.Day != _day || _noted.Count >= Most) _noted.Clear();
            _day = sight.Day;
            _noted.Add(sight);
        }
    }
}
