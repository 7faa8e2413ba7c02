using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Data.Students;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.My;

/// <summary>One thing to do, as the student's page shows it.</summary>
/// <param name="Id">Names its view.</param>
/// <param name="Item">The item.</param>
internal sealed record MyStep(string Id, PlanItem Item)
{
    public PlanSong? Song => Item.Song;
}

/// <summary>How a guitar is tuned, for the tuner.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Strings">For each open string, the lowest first: MIDI number, name of the note, which string it is.</param>
internal sealed record MyTuning(string Name, IReadOnlyList<(int Midi, string Note, string Number)> Strings);

/// <summary>A student's own page, opened by a link: today's plan step by step, the sheet, playing along. All of it comes at
/// once, so that it goes on without network.</summary>
[EnableRateLimiting(StudentDoor.RateLimit)]
internal sealed class IndexModel(PlanDesk plans, StudioSettings studio, Logbook log, TimeProvider clock) : PageModel
{
    private const int DaysAhead = 7, MostRecent = 8;
    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    };

    public StudentPractice Practice { get; private set; } = null!;
    public string Secret { get; private set; } = "";

    /// <summary>What was handed in without script, in words.</summary>
    public string? Said { get; private set; }

    /// <summary>All that comes in the days ahead, each once.</summary>
    public IReadOnlyList<MyStep> Steps { get; private set; } = [];

    /// <summary>What the student handed in last, the newest first: it can be taken back.</summary>
    public IReadOnlyList<PracticeEntry> Recent =>
        [.. Practice.Log.Entries.Where(e => e.By == Author.Student && e.At > clock.GetUtcNow().AddDays(-2)).Reverse()
            .Take(MostRecent)];

    public bool IsChild => Practice.Student.AgeGroup == AgeGroup.Child;

    public string Caution => IsChild ? PlanWords.ChildCaution : PlanWords.Caution;

    /// <summary>The tunings of the songs in work; standard where there is none.</summary>
    public IReadOnlyList<MyTuning> Tunings
    {
        get
        {
            var open = Practice.Songs.Select(s => (Name: TuningWords.Say(s.Rung.Song.Chart), Strings: OpenStrings(s)))
                .DistinctBy(t => t.Strings).DefaultIfEmpty((Name: "", Strings: Tuning.Standard));
            return [.. open.Select(
                t => new MyTuning(t.Name.Length > 0 ? t.Name : "standard tuning", [.. t.Strings.Strings.Select((midi, i) =>
                (midi, FigureLine.PitchOf(midi).Note.ToString(), ShapeWords.StringName(i)))]))];
        }
    }

    private static Tuning OpenStrings(WorkedSong song) => song.Rung.Song.Chart.Strings.Shift(song.Rung.Song.Chart.TuningShift);

    /// <summary>What the strings of a shape sound, as MIDI numbers, the lowest string first; null for one that is left
    /// out.</summary>
    private static IEnumerable<int?> Sounds(WorkedSong song, Shape shape)
    {
        var strings = OpenStrings(song).Strings;
        return Enumerable.Range(0, shape.StringCount)
            .Select(s => shape[s] < 0 ? (int?)null : strings[s] + shape[s] + song.Rung.Capo);
    }

    private StudentVisit Visit => (StudentVisit)HttpContext.Items[typeof(StudentVisit)]!;

    public async Task<IActionResult> OnGetAsync(string secret) => await OpenAsync(secret) ? Page() : NotFound();

    /// <summary>How long, how hard, and whether it hurt, from a browser without script.</summary>
    public async Task<IActionResult> OnPostAsync(string secret, int? minutes, int? felt, bool hurt)
    {
        var outcome = (await log.KeepAsync(Visit.StudentId,
            [new NewEntry { Kind = "time", Minutes = minutes, Felt = felt, Hurt = hurt, Key = Guid.CreateVersion7() }],
            Author.Student, HttpContext.RequestAborted))?[0];
        if (outcome is null || !await OpenAsync(secret)) return NotFound();
        Said = outcome.Fault ?? "Handed in. Well done.";
        return Page();
    }

    private async Task<bool> OpenAsync(string secret)
    {
        Secret = secret;
        if (await plans.OpenAsync(Visit.StudentId, DaysAhead, HttpContext.RequestAborted) is not { } practice) return false;
        Practice = practice;
        Steps =
            [.. practice.Plan.SelectMany(d => d.Items).GroupBy(NameOf).Select((g, i) => new MyStep($"step-{i + 1}", g.First()))];
        await plans.NoteSightAsync(practice.Student.Id, "the student, by the link", "the student's page",
            HttpContext.RequestAborted);
        return true;
    }

    private static string NameOf(PlanItem item) => string.Create(CultureInfo.InvariantCulture, $"{item.Key} {item.Tempo}");

    /// <summary>What the script needs: the days, and what each step hands in.</summary>
    public string Data => JsonSerializer.Serialize(new
    {
        student = Practice.Student.Id, address = $"{StudentDoorStep.Root}/{Secret}", nickname = Practice.Student.Nickname,
        pause = PlanWords.Break, stamp = Stamp,
        days = Practice.Plan.Select(d => new
        {
            on = d.On.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), breaks = d.BreaksAfter,
            items = d.Items.Select(i => new { key = i.Key, view = Steps.First(s => NameOf(s.Item) == NameOf(i)).Id,
                minutes = i.Minutes, title = PlanWords.Title(i, studio.NoteNames), song = i.Song?.Title,
                hard = i.IsHardOnTheHand || i.HasHardShapes }),
        }),
        views = Steps.ToDictionary(s => s.Id, s => HandsIn(s.Item)),
        songs = Practice.Songs.Select(s => new { id = s.Work.SongId, rung = s.Rung.Number, title = s.Open.Song.Title,
            entry = StretchOf(s.Work.SongId.ToString(), null, s) }),
    }, Written);

    /// <summary>Changes when the teacher changes something: a day that was begun is finished as it was begun, unless it
    /// does.</summary>
    private string Stamp =>
        string.Join(' ',
            Practice.Songs.Select(s => $"{s.Work.SongId}:{s.Rung.Number}")
                .Append($"{Practice.Student.MinutesADay} {Practice.Hurts} {Practice.Student.Progress?.PlanWishes}"));

    /// <summary>What a step hands in, but for how it went.</summary>
    private object HandsIn(PlanItem item)
    {
        var worked = Practice.Songs.FirstOrDefault(s => s.Work.SongId.ToString() == item.Song?.Key);
        var (song, rung, capo) = (worked?.Work.SongId, worked?.Rung.Number, worked?.Rung.Capo);
        switch (item.Kind)
        {
            case PlanKind.Shape:
                return new { kind = "shape", song, rung, capo, text = PlanWords.Title(item, studio.NoteNames),
                    to = Fingered(worked!.Rung.PlayedAs(item.Chord!.Value).Choice.Fingering) };
            case PlanKind.Pair:
                var change = worked!.Rung.Changes[item.Change!.Value];
                var (from, to) =
                    (worked.Rung.PlayedAs(change.From).Choice.Fingering, worked.Rung.PlayedAs(change.To).Choice.Fingering);
                return new { kind = "changes", song, rung, capo, text = PlanWords.Title(item, studio.NoteNames),
                    from = Fingered(from), to = Fingered(to), best = Best(from.Shape, to.Shape),
                    names = new[] { change.From, change.To }.Select(c => worked.Rung.Chords[c].ShapeChord.Name),
                    sounds = new[] { from, to }.Select(f => Sounds(worked, f.Shape)) };
            case PlanKind.Strum:
                return new { kind = "strum", song, rung, text = PlanWords.Title(item, studio.NoteNames),
                    pattern = item.Pattern!.Notation, meter = item.Pattern.Meter.ToString(), swing = item.Pattern.Swing,
                    tempo = (int?)item.Tempo };
            case PlanKind.Section or PlanKind.Form:
                return StretchOf(item.Song!.Key, item.Kind == PlanKind.Section ? item.Section : null, worked!, item.Tempo);
            case PlanKind.Figure:
                return new { kind = "note", song, rung, text = $"practised: {PlanWords.Title(item, studio.NoteNames)}" };
            case PlanKind.Own:
                return new { kind = "note", text = $"done: {item.Text}" };
            default: return new { kind = "" };
        }
    }

    /// <summary>A stretch of a song, with the change in it that is hardest to bring in time.</summary>
    private static object StretchOf(string song, int? section, WorkedSong worked, double? tempo = null)
    {
        var rung = worked.Rung;
        var within = section is { } s
            ? rung.Changes.Select((c, i) => (c, i)).Where(x => x.c.Place.Section == s)
            : rung.Changes.Select((c, i) => (c, i));
        var hardest = within.Where(x => x.c.Change.Seconds > 0).OrderBy(x => worked.Fit.Changes[x.i].InTime).Select(x => x.c)
            .FirstOrDefault();
        return new
        {
            kind = "clean", song, rung = rung.Number, capo = rung.Capo,
            text = section is { } at ? rung.Song.Chart.Sections[at].Name : "the whole song", tempo = (int?)tempo, section,
            from = hardest is null ? null : Fingered(hardest.Change.From),
            to = hardest is null ? null : Fingered(hardest.Change.To), freeBeats = hardest?.FreeBeats,
        };
    }

    private static object Fingered(Fingering fingering) =>
        new { frets = fingering.Shape.Frets, fingers = fingering.Fingers.Select(f => (int)f) };

    /// <summary>The best count of a change, clean changes a minute; null for none yet.</summary>
    private int? Best(Shape from, Shape to)
    {
        var counts = Practice.Log.Evidence.OfType<ChangeCount>()
            .Where(c => c.Between is { } b && b.From.Equals(from) && b.To.Equals(to)).Select(c => 60 * c.Count / c.Seconds)
            .ToList();
        return counts.Count == 0 ? null : (int)Math.Round(counts.Max());
    }

    public WorkedSong? SongOf(PlanItem item) => Practice.Songs.FirstOrDefault(s => s.Work.SongId.ToString() == item.Song?.Key);
}
