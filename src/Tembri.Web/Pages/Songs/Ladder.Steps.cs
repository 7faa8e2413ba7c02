using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data.Ladders;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <content>The teacher's steps on the ladder: how one is made, taken back and done again.</content>
internal sealed partial class LadderModel
{
    private static readonly Task<string?> Done = Task.FromResult<string?>(null);

    private const string ChordIsGone = "This chord is not in the song any more. The ladder below is up to date.";

    /// <summary>What going back one step would take back, and what going on would do again; null where there is
    /// nothing.</summary>
    public (string? Undo, string? Redo) Around { get; private set; }

    /// <summary>Versions made by hand, with how they fit; nothing where one cannot be played any more.</summary>
    public IReadOnlyList<(HandVersion Row, HandMade? Made, VersionFit? Fit)> Hands { get; private set; } = [];

    private async Task FindStepsAsync()
    {
        Around = Open.Choice is { } choice
            ? await steps.AroundAsync(Open.Song.Id, Open.Student.Id, choice.StateNumber, HttpContext.RequestAborted)
            : default;
        Hands = [.. (await desk.HandsAsync(Open, HttpContext.RequestAborted))
            .Select(h => (h.Row, h.Made,
                h.Made is null ? null : new StudentLadder(h.Made.Ladder, Open.Graded.Player).FitOf(h.Made.Rung)))];
    }

    /// <summary>Goes back one step.</summary>
    public Task<IActionResult> OnPostUndoAsync(Guid id, Guid student, int? revision, Guid? step) =>
        MovedAsync(id, student, () => steps.UndoAsync(id, student, revision, step, HttpContext.RequestAborted));

    /// <summary>Goes on one step that was taken back.</summary>
    public Task<IActionResult> OnPostRedoAsync(Guid id, Guid student, int? revision, Guid? step) =>
        MovedAsync(id, student, () => steps.RedoAsync(id, student, revision, step, HttpContext.RequestAborted));

    private async Task<IActionResult> MovedAsync(Guid id, Guid student, Func<Task<(StepEnd End, string? Why)>> move)
    {
        if (!await SongAndStudentAsync(id, student)) return NotFound();
        var (end, why) = await move();
        if (await LoadAsync(id, student, null) is { } elsewhere) return elsewhere;
        return end switch
        {
            StepEnd.Elsewhere => await RefuseAsync(StatusCodes.Status409Conflict, why!, null, null),
            StepEnd.Refused => await RefuseAsync(StatusCodes.Status200OK, why!, null, null),
            _ => Request.IsFromScript() ? await AnswerAsync(null, null) : Redirect(PathHere),
        };
    }

    private async Task<bool> SongAndStudentAsync(Guid id, Guid student) =>
        await context.Songs.AnyAsync(s => s.Id == id) && await context.Students.AnyAsync(s => s.Id == student);

    /// <summary>One decision of the teacher: made on the ladder she saw, once, or refused with the reason.</summary>
    /// <param name="id">The song.</param>
    /// <param name="student">The student.</param>
    /// <param name="capo">A capo that is only looked at, at which the step is made.</param>
    /// <param name="revision">The count of decisions that was on the page.</param>
    /// <param name="step">Names the step, so that the same one sent again is not refused; null without script.</param>
    /// <param name="rung">The rung whose chord is open afterwards.</param>
    /// <param name="chord">That chord.</param>
    /// <param name="decide">Writes the decision; answers why it cannot be, or null.</param>
    private async Task<IActionResult> StepAsync(Guid id, Guid student, int? capo, int? revision, Guid? step, int? rung,
        int? chord, Func<Decision, Task<string?>> decide)
    {
        if (!ModelState.IsValid) capo = null;
        if (await LoadAsync(id, student, capo) is { } elsewhere) return elsewhere;
        if (!ModelState.IsValid)
            return await RefuseAsync(StatusCodes.Status400BadRequest,
                "What was sent is not something this ladder has: a capo is 0 to 11, a tuning −7 to 7, a "
                    + "load 0 to 100. Nothing was changed.",
                rung, chord);
        var (end, why) = await steps.MakeAsync(id, student, revision, step, decide, HttpContext.RequestAborted);
        if (end == StepEnd.Made && !Request.IsFromScript())
            return Redirect(rung is null ? PathHere : $"{PathHere}?rung={rung}&chord={chord}#bench");
        var (asked, typed) = (Asked, Typed);
        if (await LoadAsync(id, student, null) is { } gone) return gone;
        (Asked, Typed) = (asked, typed);
        return end switch
        {
            StepEnd.Elsewhere => await RefuseAsync(StatusCodes.Status409Conflict, why!, rung, chord),
            StepEnd.Refused => await RefuseAsync(StatusCodes.Status200OK, why!, rung, chord),
            _ => await AnswerAsync(rung, chord),
        };
    }

    private string ChordName(int chord) => Ladder.Flow.Chords[chord].Named(studio.NoteNames).Name;

    private string ScopeWords(WishScope scope) => scope switch
    {
        WishScope.Rung => "",
        WishScope.Up => " and above",
        WishScope.Ladder => " on every rung",
        WishScope.Student => $" in every song of {Open.Student.Nickname}’s",
        _ => " in every song of the studio",
    };

    /// <summary>What the teacher wants on this ladder, for the student and in the studio, with the words for each.</summary>
    public IReadOnlyList<WishLine> Wishes => field ??= WishLine.Of(Open, studio.NoteNames);
}
