using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Changes;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;

namespace Tembri.Web.Pages;

/// <summary>The teacher's day: whose lesson it is, who practised, who is stuck on what, what to do next. Ladders are opened row by row, those in sight first.</summary>
internal sealed class TodayModel(TembriDbContext context, PlanDesk plans, TimeProvider clock) : PageModel
{
    private const int WeekDays = 7, OnAPage = 60;
    private const double Enough = 60;   // clean changes a minute that are enough for anything

    public IReadOnlyList<TodayRow> Rows { get; private set; } = [];
    public Stretch Shown { get; private set; } = new(0, OnAPage, 0);
    public StretchLinks Links => new(Shown, "students", to => $"/today?students={to}");
    public DateOnly Day => plans.Today;

    /// <summary>True for a student whose lesson is today.</summary>
    public bool IsToday(Student student) => student.LessonDay == Day.DayOfWeek;

    public async Task OnGetAsync([FromQuery(Name = "students")] int? pageNumber)
    {
        var all = await context.Students.AsNoTracking().ToListAsync();
        var ordered = all.OrderBy(s => s.LessonDay is { } day ? ((int)day - (int)Day.DayOfWeek + WeekDays) % WeekDays : WeekDays).ThenBy(s => s.LessonAt).ThenByDescending(s => s.Progress?.Hurts == true).ThenBy(s => s.Nickname, StringComparer.CurrentCultureIgnoreCase).ToList();
        Shown = Stretch.Of(pageNumber, OnAPage, ordered.Count);
        var shown = ordered.Skip(Shown.First).Take(OnAPage).ToList();
        var facts = await FactsAsync(shown);
        Rows = [.. shown.Select(s => new TodayRow(s, facts[s.Id], null, []))];
    }

    /// <summary>One row, with its ladders.</summary>
    public async Task<IActionResult> OnGetRowAsync(Guid id)
    {
        if (await plans.OpenAsync(id, 1, HttpContext.RequestAborted) is not { } practice) return NotFound();
        var facts = await FactsAsync([practice.Student]);
        var available = practice.Songs.SelectMany(s => s.Rung.Changes.Select((c, i) => (
                Pair: (From: s.Rung.Chords[c.From].Choice.Fingering.Shape, To: s.Rung.Chords[c.To].Choice.Fingering.Shape), s.Fit.Changes[i].AvailableSeconds)))
            .GroupBy(x => x.Pair).ToDictionary(g => g.Key, g => g.Min(x => x.AvailableSeconds));
        // A change that no song asks for any more is no longer in the way.
        var stuck = StuckChange.Of(practice.Log.Evidence.OfType<Evidence>(), clock.GetUtcNow(), (from, to, aMinute) =>
            aMinute >= Enough || !available.TryGetValue((from, to), out var seconds) || TimedChanges.SecondsOf(Math.Max(0.1, aMinute)) <= seconds);
        return Partial("_TodayRow", new TodayRow(practice.Student, facts[id], practice, stuck));
    }

    private async Task<Dictionary<Guid, TodayFacts>> FactsAsync(IReadOnlyList<Student> students)
    {
        var ids = students.Select(s => s.Id).ToList();
        var since = clock.GetUtcNow().AddDays(-WeekDays);
        var week = (await context.PracticeEntries.AsNoTracking().Where(e => ids.Contains(e.StudentId) && e.EndedAt == null && e.At >= since && e.Kind != PracticeKind.Note)
            .Select(e => new { e.StudentId, e.At, e.Minutes }).ToListAsync()).ToLookup(e => e.StudentId);
        var notes = await context.PracticeEntries.AsNoTracking().Where(e => ids.Contains(e.StudentId) && e.EndedAt == null && e.Kind == PracticeKind.Note && e.By == Author.Teacher && e.Text != "")
            .GroupBy(e => e.StudentId).Select(g => new { g.Key, g.OrderByDescending(e => e.At).First().Text }).ToDictionaryAsync(g => g.Key, g => g.Text);
        return students.ToDictionary(s => s.Id, s => new TodayFacts(
            week[s.Id].Select(e => e.At.Date).Distinct().Count(), week[s.Id].Sum(e => e.Minutes ?? 0),
            s.Progress?.PractisedAt is { } last ? Math.Max(0, Day.DayNumber - DateOnly.FromDateTime(last.Date).DayNumber) : null, notes.GetValueOrDefault(s.Id)));
    }
}
