using System.ComponentModel.DataAnnotations;
using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>The lesson: one rung as it is played, readable from two metres, led by keys, a foot switch or the clock; what is
/// noted and counted lands on the student.</summary>
[MayBeASecondOld]
internal sealed class StageModel(TembriDbContext context, LadderDesk desk, StudioSettings studio, Logbook log, SetDesk sets,
    TimeProvider clock) : PageModel
{
    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web);

    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;

    /// <summary>The tempo the stage begins with, beats a minute.</summary>
    public double Tempo { get; private set; }

    public Chart Chart => Rung.Song.Chart;

    public Ladder Ladder => Open.Ladder;

    /// <summary>The rungs that can be played, the lowest first.</summary>
    public IReadOnlyList<PlayableRung> Rungs => [.. Ladder.Playable];

    /// <summary>A step of the way through the song: a bar, or a chord within one.</summary>
    /// <param name="S">The section, by its place in the chart.</param>
    /// <param name="B">The bar in it.</param>
    /// <param name="Bar">The bar, counted as they are played.</param>
    /// <param name="At">Beats from the start of the bar.</param>
    /// <param name="Beats">Beats it lasts.</param>
    /// <param name="C">Which chord of the rung; −1 for silence.</param>
    public sealed record StageStep(int S, int B, int Bar, double At, double Beats, int C);

    /// <summary>What the script leads through.</summary>
    public string Steps => JsonSerializer.Serialize(StepsOf(), Written);

    /// <summary>What the fingers do from chord to chord, by “from-to”, with the frets for counts.</summary>
    public string Changes => JsonSerializer.Serialize(
        Rung.Changes.Select((c, i) => (c, i)).ToDictionary(x => $"{x.c.From}-{x.c.To}", x => new
        {
            words = LadderWords.Say(x.c.Change), late = Fit.Changes[x.i].NeededSeconds > Fit.Changes[x.i].AvailableSeconds,
            from = x.c.Change.From.Shape.Frets, to = x.c.Change.To.Shape.Frets,
            name = $"{NameOf(x.c.From)} to {NameOf(x.c.To)}",
        }), Written);

    /// <summary>The change of a section that is hardest to bring in time, for what is marked clean there; empty when nothing
    /// moves.</summary>
    public string HardestIn(int section) =>
        Rung.Changes.Select((c, i) => (c, i)).Where(x => x.c.Place.Section == section && x.c.Change.Seconds > 0)
            .OrderBy(x => Fit.Changes[x.i].InTime).Select(x => x.c).FirstOrDefault() is { } hardest
        ? JsonSerializer.Serialize(
            new { from = hardest.Change.From.Shape.Frets, to = hardest.Change.To.Shape.Frets, free = hardest.FreeBeats },
            Written)
        : "";

    public VersionFit Fit => Open.FitOf(Rung)!;

    public string Address(int rung) => Paths.Stage(Open.Song.Id, Open.Student.Id, rung);

    private string NameOf(int chord) => Rung.Chords[chord].ShapeChord.Named(studio.NoteNames).Name;

    private List<StageStep> StepsOf()
    {
        var steps = new List<StageStep>();
        var played = 0;
        foreach (var (section, bar) in Chart.PlayedPlaces())
        {
            var (slots, at) = (Chart.Sections[section].Bars[bar].Slots, 0.0);
            for (var i = 0; i < slots.Count; i++)
            {
                var chord = Rung.Flow.ChordAt(played, i);
                // A chord that is written twice in a bar is one thing to do.
                if (steps.Count > 0 && steps[^1] is { } last && last.Bar == played && last.C == chord)
                    steps[^1] = last with { Beats = last.Beats + slots[i].Beats };
                else steps.Add(new StageStep(section, bar, played, at, slots[i].Beats, chord));
                at += slots[i].Beats;
            }
            played++;
        }
        return steps;
    }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, Guid? hand, [Range(20.0, 300.0)] double? tempo,
        Guid? set)
    {
        if (await desk.OpenHandAsync(id, student, hand, HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Number == rung) ?? feasible.FirstOrDefault(r => r.Number == open.WorkingRung)
            ?? feasible[0];
        Tempo = ModelState.IsValid && tempo is { } asked
            ? asked
            : Math.Min(Ladder.Chart.Tempo, Fit.ComfortableTempo ?? Ladder.Chart.Tempo);
        if (set is { } played) InSet = await FindInSetAsync(played, id);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_StageRung", this) : Page();
    }

    /// <summary>Where the song stands in a set that is played through.</summary>
    public sealed record SetPlace(string Name, int Place, int All, int Capo, SetWay? Before, SetWay? Next);

    /// <summary>The way to a song beside it in the set.</summary>
    public sealed record SetWay(string Title, int Capo, string Address);

    /// <summary>The set that is played through; null for a song alone.</summary>
    public SetPlace? InSet { get; private set; }

    private async Task<SetPlace?> FindInSetAsync(Guid set, Guid song)
    {
        if (await sets.OpenAsync(set, HttpContext.RequestAborted) is not { } open) return null;
        var items = open.Items.ToList();
        var at = items.FindIndex(i => i.Song.Id == song);
        if (at < 0) return null;
        SetWay? Way(int i) =>
            i < 0 || i >= items.Count
                ? null
                : new SetWay(items[i].Song.Title, items[i].Capo,
                    $"{Paths.Stage(items[i].Song.Id, Open.Student.Id, items[i].Rung)}&set={set}");
        return new SetPlace(open.Set.Name, at + 1, items.Count, Rung.Capo, Way(at - 1), Way(at + 1));
    }

    /// <summary>Keeps what was noted or counted.</summary>
    public async Task<IActionResult> OnPostEntryAsync(
        Guid id, Guid student, [EnumDataType(typeof(PracticeKind))] PracticeKind kind, int rung, string? text, int? tempo,
        string? fromFrets, string? toFrets, int? count, int? seconds, int? capo, double? freeBeats, Guid? step)
    {
        if (!await context.Songs.AnyAsync(s => s.Id == id)) return NotFound();
        if (!ModelState.IsValid) return Fault("A number could not be read. Nothing was kept.");
        if (string.IsNullOrWhiteSpace(text)) return Fault($"Write a note of 1 to {PracticeEntry.LongestText} letters.");
        EntryShape? Side(string? frets) =>
            LadderDecisions.ShapeOf(frets) is { } shape ? new EntryShape([.. shape.Frets], null) : null;
        var sent = new NewEntry
        {
            Kind = kind.ToString(), Song = id, Rung = rung, Text = text, Tempo = tempo, From = Side(fromFrets),
            To = Side(toFrets), Count = count, Seconds = seconds, Capo = capo,
            FreeBeats = freeBeats is > 0 and < 100 ? freeBeats : null, Key = step ?? Guid.CreateVersion7(),
        };
        if ((await log.KeepAsync(student, [sent], Author.Teacher, HttpContext.RequestAborted))?[0] is not { } outcome)
            return NotFound();
        if (!outcome.Kept) return Fault(outcome.Fault!);
        return Request.IsFromScript()
            ? new JsonResult(
                new { said = EntryWords.Say(EntryCheck.Make(sent, clock.GetUtcNow(), out _)!, CultureInfo.InvariantCulture) })
            : Redirect(Paths.Stage(id, student, rung));
    }

    private IActionResult Fault(string why) => Request.IsFromScript()
        ? new JsonResult(new { fault = why }) { StatusCode = StatusCodes.Status422UnprocessableEntity }
        : new ContentResult
        {
            Content = why, ContentType = "text/plain; charset=utf-8", StatusCode = StatusCodes.Status422UnprocessableEntity
        };
}
