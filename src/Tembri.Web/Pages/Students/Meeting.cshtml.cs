using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Hands;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Students;

/// <summary>A first meeting in ten minutes: the hand measured, the guitar chosen, eight short tries, each the one that tells
/// most of what is known least.</summary>
internal sealed class MeetingModel(TembriDbContext context, Logbook log, ArrangingOrders orders, TimeProvider clock) : PageModel
{
    public Student Student { get; private set; } = null!;
    public SkillBelief Belief { get; private set; } = null!;
    public TryOut? Next { get; private set; }

    /// <summary>What was tried or passed over in this meeting.</summary>
    public IReadOnlyList<string> Done { get; private set; } = [];

    public int Count => Done.Count;
    public bool IsOver => Done.Count >= FirstMeeting.Tries || Next is null;
    public string? Fault { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid id) => await OpenAsync(id, []) ? Page() : NotFound();

    /// <summary>Keeps a result and asks for the next try.</summary>
    public async Task<IActionResult> OnPostAsync(Guid id, string? done, string? what, int? result, int? seconds, bool pass)
    {
        var before = Split(done);
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        if (new FirstMeeting(student).Find(what) is not { } tried || before.Contains(what!))
            return await OpenAsync(id, before) ? Page() : NotFound();
        if (!pass)
        {
            if (result is not { } came) return await RefuseAsync(id, before, "Say how it went, or pass it over.");
            var entry = FirstMeeting.Entry(tried, came, seconds ?? NextTry.Seconds) with { Key = Guid.CreateVersion7() };
            if ((await log.KeepAsync(id, [entry], Author.Teacher, HttpContext.RequestAborted))?[0] is not { } outcome)
                return NotFound();
            if (!outcome.Kept) return await RefuseAsync(id, before, outcome.Fault!);
        }
        return await OpenAsync(id, [.. before, what!]) ? Page() : NotFound();
    }

    /// <summary>Takes the measured spread of the hand.</summary>
    public async Task<IActionResult> OnPostHandAsync(Guid id, double? spread)
    {
        if (await context.Students.FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        if (spread is not (>= Hand.SmallestSpread and <= Hand.LargestSpread))
            return await RefuseAsync(id, [],
                $"A hand spreads {Hand.SmallestSpread} to {Hand.LargestSpread} mm from the tip of the index to that of the "
                    + "little finger; measure again.");
        (student.SpreadMm, student.ChangedAt) = (spread, clock.GetUtcNow());
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException)
        {
            return await RefuseAsync(id, [], "This student was changed in another tab meanwhile; measure once more.");
        }
        context.ChangeTracker.Clear();
        await log.LearnAsync(id, HttpContext.RequestAborted);
        await orders.OrderForAsync([student], HttpContext.RequestAborted);
        return Redirect(Paths.Meeting(id));
    }

    private async Task<IActionResult> RefuseAsync(Guid id, List<string> done, string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return await OpenAsync(id, done) ? Page() : NotFound();
    }

    private static List<string> Split(string? done) =>
        [.. (done ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries).Take(FirstMeeting.Tries * 4)];

    private async Task<bool> OpenAsync(Guid id, List<string> done)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } student) return false;
        (Student, Done) = (student, done);
        Belief = (await log.ReadAsync(student, HttpContext.RequestAborted)).Belief;
        Next = done.Count < FirstMeeting.Tries ? new FirstMeeting(student).Next(Belief, done) : null;
        ModelState.Clear();
        return true;
    }

    /// <summary>A skill in plain words.</summary>
    public static string Plain(Technique technique, double mean) => (technique, mean) switch
    {
        (Technique.FullBarre, < 25) => "does not sound yet",
        (Technique.ShortBarre, < 20) => "buzzes",
        (Technique.Thumb, < 15) => "not used",
        (_, < 20) => "first weeks",
        (_, < 40) => "on the way to open shapes",
        (_, < 60) => "most days, with some thought",
        (_, < 80) => "without looking",
        _ => "whole songs, and tomorrow again",
    };
}
