using Tembri.Core.Practice;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>What a plan is made for.</summary>
public sealed record PlanRequest
{
    /// <summary>The longest plan, days.</summary>
    public const int MostDays = 28;

    /// <summary>The songs, the most important first.</summary>
    public required IReadOnlyList<PlanSong> Songs { get; init; }

    /// <summary>The student's skills today.</summary>
    public required Skills Skills { get; init; }

    /// <summary>How old the student is.</summary>
    public AgeGroup AgeGroup { get; init; }

    /// <summary>Minutes a day, 1 or more.</summary>
    public required int MinutesADay { get; init; }

    /// <summary>The first day.</summary>
    public required DateOnly From { get; init; }

    /// <summary>How many days, 1 to <see cref="MostDays"/>.</summary>
    public int Days { get; init; } = 7;

    /// <summary>True while something hurts: no barres, no stretches.</summary>
    public bool Hurts { get; init; }

    /// <summary>What was practised on which days.</summary>
    public PracticeDays Done { get; init; } = new();

    /// <summary>What the teacher changed.</summary>
    public PlanWishes Wishes { get; init; } = PlanWishes.None;
}

/// <summary>Puts days of practice together: warm-up, what comes back, new shapes alone, changes by the lowest chance, the right
/// hand in pieces, sections, the whole form a step quicker each day.</summary>
/// <remarks>
/// A day is filled in that order, within shares of its minutes; what is left over goes to what puts most together, then to the
/// other songs. Later days take the earlier ones as done, with the skills of today: a plan is made anew whenever
/// something was logged. The songs take turns as the day's main song. The same request gives the same plan.
/// </remarks>
public sealed class PracticePlan
{
    private static readonly PlanWeights W = PlanWeights.Default;
    private const double InTimeFrom = 0.9;
    private readonly PlanRequest _request;
    private readonly PracticeDays _done;

    private PracticePlan(PlanRequest request) => (_request, _done) = (request, request.Done.Copy());

    /// <summary>Makes a plan.</summary>
    /// <exception cref="ArgumentOutOfRangeException">No minutes, or too many days.</exception>
    public static IReadOnlyList<PlanDay> Make(PlanRequest request)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(request.MinutesADay, 1);
        ArgumentOutOfRangeException.ThrowIfLessThan(request.Days, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(request.Days, PlanRequest.MostDays);
        var plan = new PracticePlan(request);
        return [.. Enumerable.Range(0, request.Days).Select(plan.Day)];
    }

    /// <summary>Minutes of barres and stretches a day may hold.</summary>
    /// <param name="skills">The student's skills.</param>
    /// <param name="age">How old the student is.</param>
    /// <param name="hurts">True while something hurts.</param>
    public static int HardMinutes(Skills skills, AgeGroup age, bool hurts)
    {
        if (hurts) return 0;
        var step = Math.Clamp((int)(Math.Max(skills.ShortBarre, skills.FullBarre) / 20), 0, W.BarreMinutes.Count - 1);
        return Math.Max(1, (int)Math.Round(W.BarreMinutes[step] * (age == AgeGroup.Child ? W.ChildShare : 1)));
    }

    /// <summary>True when a shape works the hand: a finger lies across strings, or reaches far.</summary>
    public static bool IsHardOnTheHand(Shapes.Fingering fingering) =>
        FitModel.Demands(fingering)
            .Any(d => d.Technique is Technique.ShortBarre or Technique.FullBarre
                || d.Technique == Technique.Stretch && d.Points >= W.StretchWorkFrom);

    private PlanDay Day(int number)
    {
        var on = _request.From.AddDays(number);
        var day = new DayInMaking(_request, on);
        if (_request.MinutesADay >= 5)
            day.Add(new PlanItem(PracticeItem.WarmUp, PlanKind.WarmUp, Math.Clamp(_request.MinutesADay / 10, 1, 3),
                new BeginsTheDay()));
        foreach (var own in _request.Wishes.Own)
            day.Add(new PlanItem($"own:{own.Id}", PlanKind.Own, own.Minutes, new TeacherWants())
            {
                Text = own.Text, IsFixed = true
            });
        if (_request.Songs.Count > 0)
        {
            // The songs take turns by the calendar: a plan is made anew each day, and tomorrow's turn must come.
            var main = _request.Songs[on.DayNumber % _request.Songs.Count];
            var candidates = _request.Songs.SelectMany(song => Candidates(song, on, number)).ToList();
            foreach (var item in candidates.Where(c => Wanted(c, on)).DistinctBy(c => c.Key))
                day.Add(item with { Why = new TeacherWants(), IsFixed = true });
            Fill(day, [.. candidates.Where(c => c.Song == main && Allowed(c, on))],
                [.. candidates.Where(c => c.Why is ComesBack && Allowed(c, on))]);
            day.SpendTheRest();
            // What is left then goes to the other songs.
            foreach (var song in _request.Songs.Where(s => s != main))
                Fill(day, [.. candidates.Where(c => c.Song == song && Allowed(c, on))], []);
        }
        day.SpendTheRest();
        var made = day.Finish();
        foreach (var item in made.Items) _done.Add(item.Key, on, true);
        return made;
    }

    private bool Wanted(PlanItem item, DateOnly on) =>
        _request.Wishes.Fixed.Contains(item.Key) || _request.Wishes.Moved.Any(m => m.Key == item.Key && m.To == on);

    private bool Allowed(PlanItem item, DateOnly on) =>
        !_request.Wishes.LeftOut.Contains(item.Key) && !_request.Wishes.Moved.Any(m => m.Key == item.Key && m.From == on);

    private static void Fill(DayInMaking day, List<PlanItem> main, List<PlanItem> back)
    {
        // What comes back: those whose day is longest past first, within their share.
        var forBack = (int)Math.Ceiling(W.ComesBackShare * day.Budget);
        foreach (var item in back.OrderBy(i => ((ComesBack)i.Why).LastOn.AddDays(((ComesBack)i.Why).AfterDays))
            .ThenBy(i => i.Key, StringComparer.Ordinal))
            if (item.Minutes <= forBack && day.Add(item)) forBack -= item.Minutes;
        var apart = Math.Max(1, (int)(W.ApartShare * day.Budget));
        void Take(PlanKind kind, int most)
        {
            foreach (var item in main.Where(i => i.Kind == kind && i.Why is not ComesBack))
            {
                if (most <= 0) return;
                if (item.Minutes > apart || !day.Add(item)) continue;
                apart -= item.Minutes;
                most--;
            }
        }
        Take(PlanKind.Shape, W.NewShapes);
        Take(PlanKind.Pair, W.Pairs);
        Take(PlanKind.Strum, 1);
        Take(PlanKind.Figure, 1);
        foreach (var item in main.Where(i => i.Kind is PlanKind.Section or PlanKind.Form)) day.Add(item);
    }

    /// <summary>All that could be practised of a song on a day, the most useful of each kind first.</summary>
    private IEnumerable<PlanItem> Candidates(PlanSong song, DateOnly on, int number)
    {
        var (rung, fit, order) = (song.Rung, song.Fit, song.Order);
        var minutes = _request.MinutesADay >= 12 ? 2 : 1;
        foreach (var shape in order.Shapes)
        {
            var fingering = rung.PlayedAs(shape.Chord).Choice.Fingering;
            var key = PracticeItem.Shape(fingering.Shape);
            var item = new PlanItem(key, PlanKind.Shape, minutes, new NotCleanYet(shape.Clean, shape.Share))
            {
                Song = song, Chord = shape.Chord, IsHardOnTheHand = IsHardOnTheHand(fingering)
            };
            if (!shape.IsKnown || Wanted(item, on)) yield return item;
            else if (DueAgain(key, on) is { } back) yield return item with { Minutes = 1, Why = back };
        }
        foreach (var (change, i) in rung.Changes.Select((c, i) => (c, i)).Where(x => x.c.Change.Seconds > 0)
            .OrderBy(x => fit.Changes[x.i].InTime).ThenBy(x => x.i))
        {
            var (from, to) = (rung.PlayedAs(change.From).Choice.Fingering, rung.PlayedAs(change.To).Choice.Fingering);
            var key = PracticeItem.Change(from.Shape, to.Shape);
            var fitted = fit.Changes[i];
            var item = new PlanItem(key, PlanKind.Pair, minutes,
                new ComesLate(fitted.InTime, change.Count, fitted.NeededSeconds, fitted.AvailableSeconds))
            {
                Song = song, Change = i, IsHardOnTheHand = IsHardOnTheHand(from) || IsHardOnTheHand(to),
            };
            var usable = Math.Min(fit.Clean[change.From], fit.Clean[change.To]) >= W.UsableFrom;
            if (fitted.InTime < InTimeFrom && usable || Wanted(item, on)) yield return item;
            else if (fitted.InTime >= InTimeFrom && DueAgain(key, on) is { } back)
                yield return item with { Minutes = 1, Why = back };
        }
        foreach (var item in RightHand(song, minutes, on)) yield return item;
        foreach (var item in Together(song, on, number)) yield return item;
    }

    /// <summary>A section, and the whole form, at a tempo: a step quicker than what went clean last, from the comfortable
    /// one.</summary>
    private IEnumerable<PlanItem> Together(PlanSong song, DateOnly on, int number)
    {
        var (rung, fit) = (song.Rung, song.Fit);
        bool IsHard(int chord) => IsHardOnTheHand(rung.PlayedAs(chord).Choice.Fingering);
        bool IsUsable(int chord) => fit.Clean[chord] >= W.UsableFrom;
        var record = rung.Song.Chart.Tempo;
        var comfortable = fit.ComfortableTempo ?? VersionOutline.SlowestTempo;
        var begin = song.WentAt is { } went ? Math.Max(comfortable, went * (1 + W.TempoStep)) : comfortable;
        var tempo = Math.Round(Math.Min(record, begin * Math.Pow(1 + W.TempoStep, number)));
        PlanItem Section(LearntSection s) => new(PracticeItem.Section(song.Key, s.Section), PlanKind.Section,
            Math.Clamp(_request.MinutesADay / 5, 2, 6), new PutTogether(s.Good))
        {
            Song = song, Section = s.Section, Tempo = Math.Min(tempo, Math.Round(comfortable)),
            HasHardShapes = s.Chords.Any(IsHard),
        };
        // The section that was let lie longest; those that go least well first among them. And what the teacher wants.
        var open = song.Order.Sections.Where(s => !(_request.Hurts && s.Chords.Any(IsHard))).ToList();
        var next = open.Where(s => s.Good < W.GoodFrom && s.Chords.All(IsUsable))
            .OrderBy(s => _done.Last(PracticeItem.Section(song.Key, s.Section)) ?? DateOnly.MinValue).ThenBy(s => s.Good)
            .ThenBy(s => s.Section).FirstOrDefault();
        foreach (var section in open.Where(s => s == next || Wanted(Section(s), on))) yield return Section(section);
        var played = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).Select(c => c.Index).ToList();
        var form = new PlanItem(PracticeItem.Form(song.Key), PlanKind.Form, Math.Clamp(_request.MinutesADay / 4, 2, 8),
            new TowardTheRecord(fit.ComfortableTempo, record))
        {
            Song = song, Tempo = tempo, HasHardShapes = played.Exists(IsHard)
        };
        if ((played.TrueForAll(IsUsable) || Wanted(form, on)) && !(_request.Hurts && form.HasHardShapes)) yield return form;
    }

    private IEnumerable<PlanItem> RightHand(PlanSong song, int minutes, DateOnly on)
    {
        var rung = song.Rung;
        var tempo = rung.Song.Chart.Tempo;
        var seen = new HashSet<string>();
        for (var section = 0; section < rung.Song.Chart.Sections.Count; section++)
        {
            var pattern = rung.Hand.In(section);
            var chance = FitModel.Strummed(pattern.LoadAt(tempo), _request.Skills.RightHand);
            if (pattern.IsFree || !seen.Add(pattern.Notation)) continue;
            var item = new PlanItem(PracticeItem.Strum(pattern.Notation), PlanKind.Strum, minutes,
                new BreaksOff(chance, PatternPieces.Of(pattern).Count(p => p.SameAs is null)))
            {
                Song = song, Section = section, Pattern = pattern, Tempo = Math.Round(Slow(pattern, tempo)),
            };
            if (chance < W.GoodFrom || Wanted(item, on)) yield return item;
        }
        foreach (var (figure, i) in rung.Figures.Select((f, i) => (f, i)).Where(x => x.f is { Played: not null, Times: > 0 }))
        {
            var chance = Gate.Of(new Demand(Technique.Fingers, figure.Load)).Chance(_request.Skills.Fingers);
            var item = new PlanItem(PracticeItem.Figure(song.Key, figure.Section, figure.Number), PlanKind.Figure, minutes,
                new BreaksOff(chance, 2))
            {
                Song = song, Section = figure.Section, Figure = i
            };
            if (chance < W.GoodFrom || Wanted(item, on)) yield return item;
        }
    }

    /// <summary>The highest tempo, in steps of four and not above the song's, at which a pattern goes most of the time; half the
    /// song's when none does.</summary>
    private double Slow(StrumPattern pattern, double tempo)
    {
        for (var t = tempo; t > tempo / 2; t -= 4)
            if (FitModel.Strummed(pattern.LoadAt(t), _request.Skills.RightHand) >= W.GoodFrom) return t;
        return tempo / 2;
    }

    private ComesBack? DueAgain(string key, DateOnly on)
    {
        if (_done.Last(key) is not { } last) return null;
        var after = W.ComesBackAfterDays[Math.Clamp(_done.InARow(key) - 1, 0, W.ComesBackAfterDays.Count - 1)];
        return last.AddDays(after) <= on ? new ComesBack(last, after) : null;
    }
}
