using Tembri.Core.Music;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Computing;
using Tembri.Web.Drawings;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>The changes of a version: its map, one change opened with what would make it quicker, and the order in which the
/// version is learnt.</summary>
[MayBeASecondOld]
internal sealed class ChangesModel(LadderDesk desk, LadderBuilder builder, LadderSteps steps, ComputeLanes lanes,
    StudioSettings studio) : PageModel
{
    private const int MostQuicker = 3;

    /// <summary>Another way to play one of the two chords.</summary>
    /// <param name="Chord">Which chord of the rung.</param>
    /// <param name="Choice">How it would be played.</param>
    /// <param name="Here">Seconds this student would save in the change that is open.</param>
    /// <param name="InForm">Seconds this student would save in all changes of the form.</param>
    public sealed record Quicker(PlayedChord Chord, Candidate Choice, double Here, double InForm);

    /// <summary>An easier strum, and what it leaves for the change.</summary>
    /// <param name="Rung">The rung it is of.</param>
    /// <param name="Strum">The strum.</param>
    /// <param name="Seconds">Seconds there would be for the change.</param>
    public sealed record Easier(int Rung, StrumPattern Strum, double Seconds);

    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;
    public VersionFit Fit => Open.FitOf(Rung)!;
    public LearningOrder Order { get; private set; } = null!;
    public string? Fault { get; private set; }

    /// <summary>The change that is open, by its index; null while none is.</summary>
    public int? Chosen { get; private set; }

    public IReadOnlyList<Quicker> Ways { get; private set; } = [];

    /// <summary>Easier strums; empty when the strum is the easiest already.</summary>
    public IReadOnlyList<Easier> Strums { get; private set; } = [];

    /// <summary>The tempo at which the change is in time; null when it is in time now.</summary>
    public double? SlowEnough { get; private set; }

    public int Revision => Open.Choice?.Revision ?? 0;

    public NeckGeometry Neck => new(Open.Request.Kind.Guitar, Open.Ladder.Capo);

    public string Address(int change) =>
        $"{Paths.Changes(Open.Song.Id, Open.Student.Id, Rung.Number)}&from={Rung.Changes[change].From}&to={Rung.Changes[change].To}";

    /// <summary>The change back, where the song has it.</summary>
    public int? Back =>
        Chosen is { } c
            ? Rung.Changes.Select((x, i) => (x, i)).Where(x => x.x.From == Rung.Changes[c].To && x.x.To == Rung.Changes[c].From)
                .Select(x => (int?)x.i).FirstOrDefault()
            : null;

    public Scene Map =>
        ChangeMapDrawing.Draw(Rung, Fit, Open.Student.LeftHanded, studio.Below(Open.Ladder.Capo), studio.NoteNames, Chosen,
            Address);

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, int? from, int? to)
    {
        if (await LoadAsync(id, student, rung) is { } elsewhere) return elsewhere;
        await ShowAsync(from, to);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_ChangesBody", this) : Page();
    }

    /// <summary>Takes another way to play one of the chords.</summary>
    public Task<IActionResult> OnPostTakeAsync(Guid id, Guid student, int rung, int from, int to, int chord, string? frets,
        string? fingers, int? revision, Guid? step) =>
        StepAsync(id, student, rung, from, to, revision, step, decision =>
        {
            if (chord < 0 || chord >= Open.Ladder.Flow.Chords.Count
                || LadderDecisions.FingeringOf(frets, fingers, Open) is not { } taken)
                return "That shape could not be taken: the chart was changed meanwhile. What you see "
                    + "is up to date; choose again.";
            LadderDecisions.Take(decision, Open, rung, chord, taken, WishScope.Rung);
            decision.What =
                $"{Open.Ladder.Flow.Chords[chord].Named(studio.NoteNames).Name} as {taken.Shape} on rung {Rung.Limits.Label}, "
                    + "for a quicker change";
            return null;
        });

    /// <summary>Plays an easier strum on this rung.</summary>
    public Task<IActionResult> OnPostStrumAsync(Guid id, Guid student, int rung, int from, int to, int hand, int? revision,
        Guid? step) =>
        StepAsync(id, student, rung, from, to, revision, step, decision =>
        {
            if (hand is < 1 or > 5) return "There is no such strum.";
            if (Rung.Changes.FirstOrDefault(c => c.From == from && c.To == to) is not { } change)
                return "The song has no such change any more.";
            var section = Open.Ladder.Chart.Sections[change.Place.Section].Name;
            LadderDecisions.Hand(decision, Rung.Limits, section, hand);
            decision.What = $"{section}: {StrumWords.Rung(hand, false).ToLowerInvariant()} on rung {Rung.Limits.Label}";
            return null;
        });

    private async Task<IActionResult> StepAsync(Guid id, Guid student, int rung, int from, int to, int? revision, Guid? step,
        Func<Decision, string?> decide)
    {
        if (await LoadAsync(id, student, rung) is { } elsewhere) return elsewhere;
        var (end, why) = Rung.Number != rung
            ? (StepEnd.Refused, "The ladder has no such rung any more.")
            : await steps.MakeAsync(id, student, revision, step, decision => Task.FromResult(decide(decision)),
                HttpContext.RequestAborted);
        if (end is StepEnd.Made or StepEnd.Known && !Request.IsFromScript())
            return Redirect($"{Paths.Changes(id, student, rung)}&from={from}&to={to}");
        if (await LoadAsync(id, student, rung) is { } gone) return gone;
        Fault = end is StepEnd.Made or StepEnd.Known ? null : why;
        if (end == StepEnd.Elsewhere) Response.StatusCode = StatusCodes.Status409Conflict;
        await ShowAsync(from, to);
        if (!Request.IsFromScript()) return Page();
        Response.Headers["X-Tembri-Part"] = "changes";
        return Partial("_ChangesBody", this);
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student, int? rung)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Number == rung) ?? feasible.FirstOrDefault(r => r.Number == open.WorkingRung)
            ?? feasible[0];
        Order = LearningOrder.Of(Rung, Fit);
        return null;
    }

    private async Task ShowAsync(int? from, int? to)
    {
        var index = Rung.Changes.Select((c, i) => (c, i)).Where(x => x.c.From == from && x.c.To == to).Select(x => (int?)x.i)
            .FirstOrDefault();
        if (index is not { } chosen) return;
        Chosen = chosen;
        var (change, fitted) = (Rung.Changes[chosen], Fit.Changes[chosen]);
        var slowness = change.TimedSeconds is null ? Open.Graded.Player.ChangeSlowness : 1;
        if (fitted.NeededSeconds > fitted.AvailableSeconds)
            SlowEnough = Math.Floor(60 * change.FreeBeats / fitted.NeededSeconds);
        var step = Rung.Flow.Steps.First(s => s.From == change.From && s.To == change.To);
        Strums = [.. Enumerable.Range(1, Math.Max(0, Rung.Hand.RungIn(change.Place.Section) - 1))
            .Select(r => Rung.Hand.On(Rung.Song.Chart, r))
            .Select((hand, i) =>
                new Easier(i + 1, hand.In(change.Place.Section), 60 / Open.Ladder.Chart.Tempo * hand.FreeBeats(step)))
            .Where(e => e.Seconds > fitted.AvailableSeconds + 0.01).DistinctBy(e => e.Strum.Notation)
            .OrderByDescending(e => e.Rung)];
        Ways = await lanes.ForPageAsync(_ => FindWays(change, slowness), HttpContext.RequestAborted);
    }

    private IReadOnlyList<Quicker> FindWays(RungChange change, double slowness)
    {
        var times = new Core.Changes.ChangeModel(new NeckGeometry(
            Open.Request.Kind.Guitar.Tuned(Open.Ladder.Chart.TuningShift).Strung(Open.Ladder.Chart.Strings), Open.Ladder.Capo));
        var now = times.Seconds(change.Change.From, change.Change.To);
        return [.. new[] { change.From, change.To }.Where(c => !Rung.Chords[c].IsSecond)
            .SelectMany(chord => builder.Quicker(Open.Request, Open.Ladder, Rung, Rung.PlayedAs(chord))
                .Select(q => new Quicker(Rung.PlayedAs(chord), q.Candidate,
                    slowness
                        * (now
                            - (chord == change.From
                                ? times.Seconds(q.Candidate.Fingering, change.Change.To)
                                : times.Seconds(change.Change.From, q.Candidate.Fingering))), slowness * q.Saved))
                .Where(q => q.Here > 0.02).Take(MostQuicker))
            .OrderByDescending(q => q.Here).Take(MostQuicker + 1)];
    }
}
