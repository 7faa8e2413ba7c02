using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Drawings;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Students;

/// <summary>What the form of an entry holds.</summary>
public sealed class EntryForm
{
    public string Kind { get; set; } = "note";
    public DateTime? At { get; set; }
    public Guid? Song { get; set; }
    public int? Rung { get; set; }
    public string? Text { get; set; }
    public string? From { get; set; }
    public string? To { get; set; }
    public int? Count { get; set; }
    public int? Seconds { get; set; }
    public int? Tries { get; set; }
    public int? Tempo { get; set; }
    public bool Failed { get; set; }
    public string? Pattern { get; set; }
    public string? Meter { get; set; }
    public int? Minutes { get; set; }
    public int? Felt { get; set; }
    public bool Hurt { get; set; }
    public Guid? Key { get; set; }
}

/// <summary>A student's log: what was practised, what each entry taught, curves over time; entries added, corrected, taken back;
/// tables out and in.</summary>
internal sealed class LogModel(TembriDbContext context, Logbook log, PlanDesk plans, TimeProvider clock) : PageModel
{
    private const int OnAPage = 60, MostLines = 3;

    public Student Student { get; private set; } = null!;
    public LogReading Reading { get; private set; } = null!;
    public IReadOnlyDictionary<Guid, string> Titles { get; private set; } = new Dictionary<Guid, string>();

    /// <summary>Entries that were taken back or corrected.</summary>
    public IReadOnlyList<PracticeEntry> Ended { get; private set; } = [];

    public Stretch Shown { get; private set; } = new(0, OnAPage, 0);
    public StretchLinks Links => new(Shown, "entries", to => $"{Paths.Log(Student.Id)}?page={to}");
    public IReadOnlyList<PracticeEntry> Entries => [.. Reading.Entries.Reverse().Skip(Shown.First).Take(OnAPage)];

    public string? Fault { get; private set; }
    public string? Said { get; private set; }
    public IReadOnlyList<RowFault> RowFaults { get; private set; } = [];

    /// <summary>The entry that is being corrected; null for a new one.</summary>
    public PracticeEntry? Correcting { get; private set; }

    [BindProperty]
    public EntryForm Form { get; set; } = new();

    public DateTimeOffset Now => clock.GetLocalNow();

    public async Task<IActionResult> OnGetAsync(Guid id, [FromQuery(Name = "page")] int? pageNumber, Guid? correct)
    {
        if (!await OpenAsync(id, pageNumber)) return NotFound();
        if (correct is { } which && Reading.Entries.FirstOrDefault(e => e.Id == which) is { } entry)
            (Correcting, Form) = (entry, FormOf(entry));
        return Page();
    }

    /// <summary>The log as a table.</summary>
    public async Task<IActionResult> OnGetTableAsync(Guid id)
    {
        if (!await OpenAsync(id, null)) return NotFound();
        return File(LogTable.Write(Reading.Entries, Titles), "text/csv; charset=utf-8", "practice.csv");
    }

    /// <summary>Adds an entry, or puts it in the place of another.</summary>
    public async Task<IActionResult> OnPostAsync(Guid id, Guid? correct)
    {
        var sent = Sent(out var fault);
        var outcome = fault is not null
            || !ModelState.IsValid
                ? new EntryOutcome(null, false, fault ?? "A number or a day could not be read; nothing was kept.")
            : correct is { } which ? await log.CorrectAsync(id, which, sent, Author.Teacher, HttpContext.RequestAborted)
            : (await log.KeepAsync(id, [sent], Author.Teacher, HttpContext.RequestAborted))?[0];
        if (outcome is null) return NotFound();
        if (outcome.Kept) return Redirect(Paths.Log(id));
        if (!await OpenAsync(id, null)) return NotFound();
        (Fault, Correcting) = (outcome.Fault, Reading.Entries.FirstOrDefault(e => e.Id == correct));
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    public async Task<IActionResult> OnPostTakeBackAsync(Guid id, Guid entry)
    {
        if (!await context.Students.AnyAsync(s => s.Id == id)) return NotFound();
        await log.TakeBackAsync(id, entry, Author.Teacher, HttpContext.RequestAborted);
        return Redirect(Paths.Log(id));
    }

    public async Task<IActionResult> OnPostPutBackAsync(Guid id, Guid entry)
    {
        if (!await context.Students.AnyAsync(s => s.Id == id)) return NotFound();
        await log.PutBackAsync(id, entry, HttpContext.RequestAborted);
        return Redirect(Paths.Log(id));
    }

    /// <summary>Takes a table in: the rows that can be, with the others named.</summary>
    public async Task<IActionResult> OnPostTableAsync(Guid id, IFormFile? table)
    {
        if (!await OpenAsync(id, null)) return NotFound();
        ModelState.Clear();
        if (table is null || table.Length is 0 or > LogTable.LargestFile)
            Fault = $"Choose a table of up to {LogTable.LargestFile / 1024 / 1024} MB.";
        else
        {
            using var bytes = new MemoryStream();
            await table.CopyToAsync(bytes, HttpContext.RequestAborted);
            var songs = (await context.Songs.AsNoTracking().Select(s => new { s.Title, s.Id }).ToListAsync())
                .ToLookup(s => s.Title, s => s.Id, StringComparer.OrdinalIgnoreCase);
            var (rows, faults) = LogTable.Read(bytes.ToArray(), songs);
            var before = Reading.Entries.Count;
            var outcomes =
                await log.KeepAsync(id, [.. rows.Select(r => r.Entry)], Author.Teacher, HttpContext.RequestAborted) ?? [];
            RowFaults = [.. faults.Concat(
                    outcomes.Zip(rows).Where(x => !x.First.Kept).Select(x => new RowFault(x.Second.Line, x.First.Fault ?? "")))
                .OrderBy(f => f.Number)];
            await OpenAsync(id, null);
            var added = Reading.Entries.Count - before;
            var known = outcomes.Count(o => o.Kept) - added;
            Said =
                $"{(added == 1 ? "One entry was" : $"{added} entries were")} taken "
                    + $"in{(known > 0 ? $"; {known} {(known == 1 ? "was" : "were")} there already" : "")}.";
        }
        if (Fault is not null || RowFaults.Count > 0) Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    /// <summary>What an entry did to the skills, in a line; null when it told nothing.</summary>
    public string? Why(PracticeEntry entry) =>
        Reading.Steps.GetValueOrDefault(entry.Id) is { } step ? PracticeWords.Told(step) : null;

    /// <summary>The changes counted most, as lines over time.</summary>
    public Scene? Counts =>
        Lines(Reading.Entries.Where(e => e is { Kind: PracticeKind.Changes, Count: not null, Seconds: > 0 })
            .GroupBy(e => (e.Text, Shapes: $"{string.Join(',', e.FromFrets ?? [])}>{string.Join(',', e.ToFrets ?? [])}"))
        .OrderByDescending(g => g.Max(e => e.At).Date).ThenByDescending(g => g.Count())
        .ThenBy(g => g.Key.Text, StringComparer.Ordinal).Take(MostLines)
        .Select(g => new ProgressLine(g.Key.Text, ByDay(g.Select(e => (e.At, 60.0 * e.Count!.Value / e.Seconds!.Value))))),
        "Clean changes a minute");

    /// <summary>The highest tempo at which something of each song went clean, by day.</summary>
    public Scene? Tempos =>
        Lines(Reading.Entries.Where(
                e => e is { Kind: PracticeKind.Clean, Tempo: not null } && e.Went != false && e.SongId is not null)
            .GroupBy(e => (Song: e.SongId!.Value, e.Rung))
        .OrderByDescending(g => g.Max(e => e.At)).Take(MostLines)
        .Select(g => new ProgressLine($"{Core.Charts.PlainText.Cut(Titles.GetValueOrDefault(g.Key.Song, "a song"), 14)}, "
            + $"{Core.Arranging.RungLimits.LabelOf(g.Key.Rung)}:",
            [.. g.GroupBy(e => e.At.Date).Select(d => (d.First().At, (double)d.Max(e => e.Tempo!.Value)))])),
        "Tempo that went clean, beats a minute");

    /// <summary>How heavy the shapes were that were practised, by day.</summary>
    public Scene? Loads
    {
        get
        {
            var reader = new EntryEvidence(Student);
            var loads = Reading.Entries.Select(e => (e.At, Load: reader.LoadOf(e))).Where(x => x.Load is not null)
                .Select(x => (x.At, x.Load!.Value)).ToList();
            return loads.Count == 0
                ? null
                : Lines([new ProgressLine("load", ByDay(loads))], "Load of the shapes that were practised, 0 to 100");
        }
    }

    /// <summary>Minutes by week.</summary>
    public Scene? Minutes =>
        Lines([new ProgressLine("minutes a week",
                [.. Reading.Entries.Where(e => e.Minutes is not null).GroupBy(e => WeekOf(e.At)).OrderBy(g => g.Key)
                    .Select(g => (g.Key, (double)g.Sum(e => e.Minutes!.Value)))])], "Minutes of practice by week", bars: true);

    /// <summary>How the skills moved that moved most.</summary>
    public Scene? Skills
    {
        get
        {
            var moves = Reading.Entries.Where(e => Reading.Steps.ContainsKey(e.Id))
                .SelectMany(e => Reading.Steps[e.Id].Moves.Select(m => (e.At, m))).GroupBy(x => x.m.Technique);
            return Lines(moves.Where(g => g.Count() > 1).OrderByDescending(g => g.Count()).Take(MostLines)
                    .Select(g => new ProgressLine(PracticeWords.Name(g.Key), ByDay(g.Select(x => (x.At, x.m.To)), last: true))),
                "Skill, 0 to 100");
        }
    }

    /// <summary>One point a day, or a week once there are many: the mean, or what was last.</summary>
    private static List<(DateTimeOffset At, double Value)> ByDay(IEnumerable<(DateTimeOffset At, double Value)> points,
        bool last = false)
    {
        const int MostPoints = 90;
        List<(DateTimeOffset, double)> By(Func<DateTimeOffset, DateTimeOffset> of) =>
            [.. points.GroupBy(p => of(p.At)).Select(g => (g.First().At, last ? g.Last().Value : g.Average(p => p.Value)))];
        var days = By(at => new DateTimeOffset(at.UtcDateTime.Date, TimeSpan.Zero));
        return days.Count <= MostPoints ? days : By(WeekOf);
    }

    private static DateTimeOffset WeekOf(DateTimeOffset at) =>
        new(at.UtcDateTime.Date.AddDays(-(((int)at.UtcDateTime.DayOfWeek + 6) % 7)), TimeSpan.Zero);

    private static Scene? Lines(IEnumerable<ProgressLine> lines, string unit, bool bars = false)
    {
        var all = lines.Where(l => l.Points.Count > 0).ToList();
        return all.Count == 0 ? null : ProgressDrawing.Draw(all, unit, bars);
    }

    private NewEntry Sent(out string? fault)
    {
        fault = null;
        var (from, to) = (Side(Form.From, ref fault), Side(Form.To, ref fault));
        // A form knows minutes only: the one that is running is now, so that it never lies before numbers set a moment ago.
        if (Form.At is { } chosen && Math.Abs((Now.DateTime - chosen).TotalMinutes) < 2) Form.At = null;
        return new NewEntry
        {
            Key = Form.Key ?? Guid.CreateVersion7(), Kind = Form.Kind,
            At = Form.At is { } at
                ? new DateTimeOffset(DateTime.SpecifyKind(at, DateTimeKind.Unspecified), clock.LocalTimeZone.GetUtcOffset(at))
                : null,
            Song = Form.Song, Rung = Form.Rung, Text = Form.Text is { Length: > 0 } ? Form.Text : Named(from, to), From = from,
            To = to, Count = Form.Count, Seconds = Form.Seconds, Tries = Form.Tries, Tempo = Form.Tempo, Went = !Form.Failed,
            Pattern = Form.Pattern, Meter = Form.Meter, Minutes = Form.Minutes, Felt = Form.Felt, Hurt = Form.Hurt,
        };
    }

    private static string? Named(EntryShape? from, EntryShape? to) => (from, to) switch
    {
        ({ } a, { } b) => $"{PracticeWords.NameOf(new Shape(a.Frets!))} to {PracticeWords.NameOf(new Shape(b.Frets!))}",
        (null, { } b) => PracticeWords.NameOf(new Shape(b.Frets!)),
        _ => null,
    };

    private static EntryShape? Side(string? text, ref string? fault)
    {
        if (string.IsNullOrWhiteSpace(text)) return null;
        try { if (Shape.Parse(text.Trim()) is { StringCount: 6 } shape) return new EntryShape([.. shape.Frets], null); }
        catch (FormatException) { /* said below */ }
        catch (ArgumentException) { /* said below */ }
        fault ??= $"“{text}” is no shape; write a fret a string, the lowest string first, such as x32010.";
        return null;
    }

    private EntryForm FormOf(PracticeEntry e) => new()
    {
        Kind = e.Kind.ToString().ToLowerInvariant(), At = TimeZoneInfo.ConvertTime(e.At, clock.LocalTimeZone).DateTime,
        Song = e.SongId, Rung = e.Rung == 0 ? null : e.Rung, Text = e.Text,
        From = e.FromFrets is null ? null : new Shape(e.FromFrets).ToString(),
        To = e.ToFrets is null ? null : new Shape(e.ToFrets).ToString(), Count = e.Count, Seconds = e.Seconds, Tries = e.Tries,
        Tempo = e.Tempo, Failed = e.Went == false, Pattern = e.Pattern, Meter = e.Meter, Minutes = e.Minutes, Felt = e.Felt,
        Hurt = e.Hurt,
    };

    private async Task<bool> OpenAsync(Guid id, int? pageNumber)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } student) return false;
        Student = student;
        Reading = await log.ReadAsync(student, HttpContext.RequestAborted);
        Titles =
            await context.Songs.AsNoTracking().Select(s => new { s.Id, s.Title }).ToDictionaryAsync(s => s.Id, s => s.Title);
        Ended = await context.PracticeEntries.AsNoTracking().Where(e => e.StudentId == id && e.EndedAt != null)
            .OrderByDescending(e => e.EndedAt).Take(OnAPage).ToListAsync();
        Shown = Stretch.Of(pageNumber, OnAPage, Reading.Entries.Count);
        Form.Key ??= Guid.CreateVersion7();
        await plans.NoteSightAsync(id, User.Identity?.Name ?? "the teacher", "the log", HttpContext.RequestAborted);
        return true;
    }
}
