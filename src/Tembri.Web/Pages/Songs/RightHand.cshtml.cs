using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Songs;
using Tembri.Web.Sound;
using Tembri.Web.Words;
using Section = Tembri.Core.Charts.Section;

namespace Tembri.Web.Pages.Songs;

/// <summary>The right hand of a song: the pattern of each section written on its count, its own ladder, which rung plays what,
/// and how it is learnt.</summary>
[MayBeASecondOld]
internal sealed class RightHandModel(TembriDbContext context, LadderDesk desk, LadderSteps steps, SongKeeper keeper,
    ResultCache results) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;

    /// <summary>The section that is looked at, by its place in the chart.</summary>
    public int Section { get; private set; }

    public Section Part => Open.Reading.Chart.Sections[Section];

    /// <summary>The pattern in the editor.</summary>
    public StrumPattern Pattern { get; private set; } = null!;

    /// <summary>What stands in the editor, when it cannot be read: as it was sent, with what is wrong.</summary>
    public (string Text, string Fault)? Unread { get; private set; }

    public Loudness Loudness { get; private set; }

    /// <summary>True when the section has a pattern of its own in the chart.</summary>
    public bool IsTakenDown => Part.Hand.Steps.Length > 0;

    public uint Version { get; private set; }
    public string? Fault { get; private set; }
    public int Revision => Open.Choice?.Revision ?? 0;
    public double Tempo => Open.Ladder.Chart.Tempo;

    public StrumLadder Hands => StrumLadder.Of(Pattern, results);

    public string Address(int section) => $"{Paths.RightHand(Open.Song.Id, Open.Student.Id, Rung.Number)}&section={section}";

    /// <summary>The change of the section that is hardest to make in time on the rung, and the time the pattern in the editor
    /// leaves for it here; null where it has none.</summary>
    public (RungChange Change, ChangeTime Time)? HardestChange
    {
        get
        {
            var fit = Open.FitOf(Rung)!;
            foreach (var i in Enumerable.Range(0, Rung.Changes.Count).Where(i => Rung.Changes[i].Change.Seconds > 0)
                .OrderBy(i => fit.Changes[i].InTime))
            {
                var change = Rung.Changes[i];
                var here = Rung.Flow.Steps.First(s => s.From == change.From && s.To == change.To).Places.Where(
                        p => p.Section == Section).Select(p => p.TimeWith(Pattern)).MinBy(t => t.Free);
                if (here is not null) return (change, here);
            }
            return null;
        }
    }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, int? section)
    {
        if (await LoadAsync(id, student, rung, section) is { } elsewhere) return elsewhere;
        return Page();
    }

    /// <summary>A pattern that is being written: its ladder, what it asks, how it is learnt. Nothing is kept.</summary>
    public async Task<IActionResult> OnGetLookAsync(Guid id, Guid student, int? rung, int? section,
        [StringLength(200)] string? pattern, int swing = StrumPattern.Straight)
    {
        if (await LoadAsync(id, student, rung, section) is { } elsewhere) return elsewhere;
        return Read(pattern, swing) is { } fault ? Unreadable(fault) : Partial("_RightHandLook", this);
    }

    /// <summary>What the browser plays: the pattern, or some steps of it, damped, on the section's first chord, or on its
    /// hardest change.</summary>
    public async Task<IActionResult> OnGetScoreAsync(Guid id, Guid student, int? rung, int? section,
        [StringLength(200)] string? pattern, int swing = StrumPattern.Straight, int from = 0, int to = HandSteps.Most,
        string on = "chord", [Range(20, 320)] double? tempo = null)
    {
        if (await LoadAsync(id, student, rung, section) is { } elsewhere) return elsewhere;
        if (Read(pattern, swing) is { } fault) return Unreadable(fault);
        return new JsonResult(PatternScore.Of(Pattern, tempo ?? Tempo, ShapesOf(on), Rung.Capo + Open.Ladder.Chart.TuningShift,
            Open.Ladder.Chart.Strings, on == "damped", from, to));
    }

    /// <summary>Reads the pattern a page sends; answers what is wrong with it.</summary>
    private string? Read(string? text, int swing)
    {
        if (!ModelState.IsValid) return $"A pattern has at most {HandSteps.Most} steps, and a tempo lies between 20 and 320.";
        if (!StrumPattern.TryParse(text, Part.UsualMeter, out var written, out var fault, swing)) return fault;
        Pattern = written;
        return null;
    }

    private static JsonResult Unreadable(string fault) =>
        new(new { fault }) { StatusCode = StatusCodes.Status422UnprocessableEntity };

    /// <summary>The shapes a pattern is heard on.</summary>
    private IReadOnlyList<Shape> ShapesOf(string on)
    {
        if (on == "change" && HardestChange is { Change.Change: { } change }) return [change.From.Shape, change.To.Shape];
        var first = Rung.Flow.Sequence.FirstOrDefault(s => s.Start.Section == Section);
        return [Rung.PlayedAs(
            Rung.Flow.Sequence.Contains(first) ? first.Chord : Rung.Flow.Sequence[0].Chord).Choice.Fingering.Shape];
    }

    /// <summary>Writes the pattern into the chart, for this section; without letters the section has none of its own any
    /// more.</summary>
    public async Task<IActionResult> OnPostKeepAsync(Guid id, Guid student, int? rung, int? section,
        [StringLength(200)] string? pattern, uint version, int swing = StrumPattern.Straight, Loudness loudness = Loudness.Usual)
    {
        if (await LoadAsync(id, student, rung, section) is { } elsewhere) return elsewhere;
        var text = (pattern ?? "").Trim();
        if (text.Length > 0 && Read(text, swing) is { } fault) return Refuse(text, fault);
        if (await context.Songs.FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        var hand = new SectionHand(text.Length > 0 ? Pattern.Notation : "", swing, loudness);
        // A section that follows another one has its hand too, so saying nothing says the other's.
        var edited = ChartEdits.Hand(song.ChartText, Section, hand);
        if (edited.Text is null) return Refuse(text, edited.Fault!);
        var (kept, stored) = song.Version == version || song.ChartText == edited.Text
            ? await keeper.KeepAsync(song, edited.Text, song.Version, HttpContext.RequestAborted)
            : (false, song);
        if (!kept && stored is null) return NotFound();
        if (!kept)
        {
            Response.StatusCode = StatusCodes.Status409Conflict;
            return Refuse(text,
                "The chart was written somewhere else after you opened it. What you see beside is the newest; your pattern "
                    + "still stands in the box. Take it again to write it there.");
        }
        return Redirect(Address(Section));
    }

    /// <summary>Plays another rung of the right hand in this section, on one rung of the ladder.</summary>
    public async Task<IActionResult> OnPostTakeAsync(Guid id, Guid student, int rung, int? section, int on, int hand,
        int? revision, Guid? step)
    {
        if (await LoadAsync(id, student, rung, section) is { } elsewhere) return elsewhere;
        var (end, why) = await steps.MakeAsync(id, student, revision, step, decision =>
        {
            if (hand is < StrumLadder.Free or > StrumLadder.Top || Open.Ladder.Find(on) is not { } played)
                return Task.FromResult<string?>("There is no such rung.");
            LadderDecisions.Hand(decision, played.Limits, Part.Name, hand);
            decision.What =
                $"{Part.Name}: {StrumWords.Rung(hand, Pattern.IsPicked).ToLowerInvariant()} on rung {played.Limits.Label}";
            return Task.FromResult<string?>(null);
        }, HttpContext.RequestAborted);
        if (end is StepEnd.Made or StepEnd.Known) return Redirect(Address(Section));
        if (await LoadAsync(id, student, rung, section) is { } gone) return gone;
        Fault = why;
        if (end == StepEnd.Elsewhere) Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    private PageResult Refuse(string text, string fault)
    {
        (Unread, Fault) = ((text, fault), fault);
        return Page();
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student, int? rung, int? section)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Number == rung) ?? feasible.FirstOrDefault(r => r.Number == open.WorkingRung)
            ?? feasible[0];
        Section = section is { } s && s >= 0 && s < open.Reading.Chart.Sections.Count ? s : 0;
        (Pattern, Loudness, Version) = (Part.RecordedHand, Part.Hand.Loudness, open.Song.Version);
        return null;
    }
}
