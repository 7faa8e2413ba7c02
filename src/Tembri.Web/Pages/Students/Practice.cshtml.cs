using System.ComponentModel.DataAnnotations;
using System.Net.Mail;
using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Mail;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Students;

/// <summary>A student's practice: the songs and where to go from their rungs, the goal, the plan of the days ahead, the link for
/// the phone.</summary>
internal sealed class PracticeModel(
    TembriDbContext context, PlanDesk plans, Logbook log, LadderDesk desk, StudentDoor door, PublicAddress address,
    MailRoom room, MailSetup mail, StudioSettings studio, TimeProvider clock) : PageModel
{
    public const int DaysShown = 7;
    private const int FarthestGoal = 730;   // days

    public StudentPractice Practice { get; private set; } = null!;
    public Student Student => Practice.Student;
    public string? Fault { get; private set; }
    public string? Said { get; private set; }

    /// <summary>The rungs of each song that were worked on before, the oldest first.</summary>
    public ILookup<Guid, SongWork> Before { get; private set; } = null!;

    /// <summary>Songs that could be taken up.</summary>
    public IReadOnlyList<(Guid Id, string Title)> Others { get; private set; } = [];

    public StudentLink? Link { get; private set; }
    public bool LinkHolds => Link is not null && door.Holds(Link);

    /// <summary>A link that was just made, shown this once.</summary>
    public string? NewLink { get; private set; }

    public bool CanMail => mail.CanSend;

    /// <summary>How the goal stands: the song, the rung that is to be ready, how long it takes about.</summary>
    public (string Title, string Rung, GoalForecast Forecast, int Days)? Goal { get; private set; }

    public DateOnly Today => plans.Today;

    public async Task<IActionResult> OnGetAsync(Guid id) => await OpenAsync(id) ? Page() : NotFound();

    /// <summary>The plan as a calendar.</summary>
    public async Task<IActionResult> OnGetCalendarAsync(Guid id, [Range(1, PlanRequest.MostDays)] int days = DaysShown)
    {
        if (await plans.OpenAsync(id, days, HttpContext.RequestAborted) is not { } practice) return NotFound();
        return File(Encoding.UTF8.GetBytes(PlanFile.Ics(practice, studio.NoteNames, clock.GetUtcNow())),
            "text/calendar; charset=utf-8", "practice.ics");
    }

    /// <summary>Takes a song up, at the rung that is right now unless another is said.</summary>
    public async Task<IActionResult> OnPostWorkAsync(Guid id, Guid song, int? rung)
    {
        if (await desk.OpenAsync(song, id, null, HttpContext.RequestAborted) is not { } open)
            return await RefuseAsync(id, "This song cannot be taken up: it is gone, or has no ladder yet.");
        if (await context.SongWorks.CountAsync(w => w.StudentId == id && w.EndedAt == null && w.SongId != song)
            >= PlanDesk.MostSongs)
            return await RefuseAsync(id, $"{PlanDesk.MostSongs} songs at once are the most; set one aside first.");
        var playable = open.Ladder.Playable.ToList();
        if ((playable.FirstOrDefault(r => r.Number == (rung ?? open.WorkingRung)) ?? playable.FirstOrDefault()) is not { } taken)
            return await RefuseAsync(id, "No rung of this song can be played by this hand; look at its ladder.");
        await MoveAsync(id, song, taken.Number, rung is null ? "right for now" : "as the teacher chose");
        return Redirect(Paths.Practice(id));
    }

    /// <summary>Goes to another rung of a song.</summary>
    public async Task<IActionResult> OnPostStepAsync(Guid id, Guid song, [Range(1, 99)] int rung, string? why)
    {
        if (!ModelState.IsValid || await desk.OpenAsync(song, id, null, HttpContext.RequestAborted) is not { } open
            || open.Ladder.Playable.All(r => r.Number != rung))
            return await RefuseAsync(id, "There is no such rung to go to.");
        await MoveAsync(id, song, rung,
            Core.Charts.PlainText.Cut(Core.Charts.PlainText.OneLine(why ?? ""), SongWork.LongestWhy));
        return Redirect(Paths.Practice(id));
    }

    /// <summary>Sets a song aside.</summary>
    public async Task<IActionResult> OnPostAsideAsync(Guid id, Guid song)
    {
        if (!await context.Students.AnyAsync(s => s.Id == id)) return NotFound();
        var now = clock.GetUtcNow();
        await context.SongWorks.Where(w => w.StudentId == id && w.SongId == song && w.EndedAt == null)
            .ExecuteUpdateAsync(set => set.SetProperty(w => w.EndedAt, now));
        return Redirect(Paths.Practice(id));
    }

    /// <summary>Goal, minutes, age group.</summary>
    public async Task<IActionResult> OnPostGoalAsync(
        Guid id, int minutes, AgeGroup age, bool sings, Guid? goalSong, int? goalRung, DateOnly? goalOn, string? tags)
    {
        if (await context.Students.FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        if (minutes is < 1 or > Student.MostMinutes)
            return await RefuseAsync(id, $"Minutes a day are 1 to {Student.MostMinutes}.");
        if (goalOn is { } day && (day < Today || day > Today.AddDays(FarthestGoal)))
            return await RefuseAsync(id, "The day of the goal lies in the past, or more than two years ahead; choose another.");
        if (goalRung is < 1 or > 99) return await RefuseAsync(id, "There is no such rung.");
        if (!ModelState.IsValid) return await RefuseAsync(id, "A day or a time could not be read; nothing was changed.");
        if (goalSong is { } wanted && !await context.Songs.AnyAsync(s => s.Id == wanted)) goalSong = null;
        (student.MinutesADay, student.AgeGroup, student.SingsAlong, student.GoalSongId, student.GoalRung, student.GoalOn) =
            (minutes, age, sings, goalSong, goalSong is null ? null : goalRung, goalSong is null ? null : goalOn);
        student.Tags = [.. Core.Charts.PlainText.OneLine(tags ?? "")
            .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(t => Core.Charts.PlainText.Cut(t, Data.Songs.Song.LongestTag)).Distinct().Take(Data.Songs.Song.MostTags)];
        student.ChangedAt = clock.GetUtcNow();
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException)
        {
            return await RefuseAsync(id,
                "This student was changed in another tab meanwhile; the page shows the newest. Make your change again.");
        }
        return Redirect(Paths.Practice(id));
    }

    /// <summary>The teacher has looked: barres and stretches may come again.</summary>
    public async Task<IActionResult> OnPostClearAsync(Guid id)
    {
        var now = clock.GetUtcNow();
        return await log.ProgressAsync(id, p => p.PainClearedAt = now, HttpContext.RequestAborted)
            ? Redirect(Paths.Practice(id))
            : NotFound();
    }

    /// <summary>Changes something in the plan.</summary>
    public async Task<IActionResult> OnPostPlanAsync(Guid id, PlanAct act, string key, DateOnly? from, DateOnly? to)
    {
        if (!ModelState.IsValid || string.IsNullOrEmpty(key) || key.Length > 200)
            return await RefuseAsync(id, "That is not in the plan any more; the page shows it as it is now.");
        return await log.ProgressAsync(id,
            p => p.PlanWishes = PlanEdits.Tidy(PlanEdits.Do(PlanWishes.Read(p.PlanWishes), act, key, from, to), Today).ToJson(),
            HttpContext.RequestAborted)
            ? Redirect($"{Paths.Practice(id)}#plan") : NotFound();
    }

    /// <summary>Adds something of the teacher's own.</summary>
    public async Task<IActionResult> OnPostOwnAsync(Guid id, string? text, int minutes)
    {
        string? fault = null;
        var found = await log.ProgressAsync(id, p =>
        {
            if (PlanEdits.Add(PlanWishes.Read(p.PlanWishes), text, minutes, out fault) is { } wishes)
                p.PlanWishes = wishes.ToJson();
        }, HttpContext.RequestAborted);
        return !found ? NotFound() : fault is null ? Redirect($"{Paths.Practice(id)}#plan") : await RefuseAsync(id, fault);
    }

    /// <summary>Makes a link; the earlier one ends.</summary>
    public async Task<IActionResult> OnPostLinkAsync(Guid id, int days)
    {
        if (!StudentDoor.Lifetimes.Contains(days)) return await RefuseAsync(id, "Choose how long the link is to hold.");
        if (!await context.Students.AnyAsync(s => s.Id == id)) return NotFound();
        var secret = await door.MakeAsync(id, days, HttpContext.RequestAborted);
        if (!await OpenAsync(id)) return NotFound();
        NewLink = address.Of(Request) + Paths.My(secret);
        return Page();
    }

    /// <summary>Ends the link.</summary>
    public async Task<IActionResult> OnPostRevokeAsync(Guid id)
    {
        if (!await context.Students.AnyAsync(s => s.Id == id)) return NotFound();
        await door.RevokeAsync(id, HttpContext.RequestAborted);
        return Redirect(Paths.Practice(id));
    }

    /// <summary>Mails the plan, with a new link when asked; the address is not kept.</summary>
    public async Task<IActionResult> OnPostMailAsync(Guid id, string? to, bool withLink)
    {
        if (!mail.CanSend) return await RefuseAsync(id, "No mail server is set here; print the plan, or show the link.");
        if (!MailAddress.TryCreate(to?.Trim(), out var receiver) || receiver.Address != to!.Trim())
            return await RefuseAsync(id, "Write one mail address, such as name@school.example.");
        if (!await OpenAsync(id)) return NotFound();
        var secret = withLink ? await door.MakeAsync(id, StudentDoor.Lifetimes[1], HttpContext.RequestAborted) : null;
        var text = new StringBuilder().AppendLine($"The plan of {Student.Nickname}").AppendLine();
        foreach (var day in Practice.Plan.Where(d => d.Items.Count > 0))
            text.AppendLine(day.On.ToString("dddd d MMMM", System.Globalization.CultureInfo.InvariantCulture))
                .AppendLine(PlanFile.Text(day, studio.NoteNames)).AppendLine();
        if (secret is not null)
            text.AppendLine("The same on the phone, with sheet and sound; the link is for this student only:")
                .AppendLine(address.Of(Request) + Paths.My(secret));
        var (subject, body) = ($"Guitar: the plan of {Student.Nickname}", text.ToString());
        room.Post(
            (services, cancel) => services.GetRequiredService<IMailer>().SendAsync(receiver.Address, subject, body, cancel));
        if (withLink) await OpenAsync(id);
        Said = "The mail is on its way. The address is not kept.";
        return Page();
    }

    private async Task MoveAsync(Guid id, Guid song, int rung, string why)
    {
        var now = clock.GetUtcNow();
        await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
        {
            context.ChangeTracker.Clear();
            await using var transaction = await context.Database.BeginTransactionAsync();
            if (await context.SongWorks.FirstOrDefaultAsync(
                w => w.StudentId == id && w.SongId == song && w.EndedAt == null) is { } before)
            {
                if (before.Rung == rung) return;
                before.EndedAt = now;
                await context.SaveChangesAsync();
            }
            context.AddOwned(new SongWork { StudentId = id, SongId = song, Rung = rung, StartedAt = now, Why = why });
            try { await context.SaveChangesAsync(); }
            // Taken up in another tab at the same moment: that one stands.
            catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e)) { return; }
            await transaction.CommitAsync();
        });
    }

    private async Task<IActionResult> RefuseAsync(Guid id, string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        ModelState.Clear();
        return await OpenAsync(id) ? Page() : NotFound();
    }

    private async Task<bool> OpenAsync(Guid id)
    {
        if (await plans.OpenAsync(id, DaysShown, HttpContext.RequestAborted) is not { } practice) return false;
        Practice = practice;
        await plans.NoteSightAsync(id, User.Identity?.Name ?? "the teacher", "plan and practice", HttpContext.RequestAborted);
        Before = (await context.SongWorks.AsNoTracking().Where(w => w.StudentId == id).OrderBy(w => w.StartedAt).ToListAsync())
            .ToLookup(w => w.SongId);
        var working = practice.Songs.Select(s => s.Work.SongId).ToList();
        Others = [.. (await context.Songs.AsNoTracking().Where(s => s.ChordCount > 0 && !working.Contains(s.Id))
                .OrderBy(s => s.Title).ThenBy(s => s.Id).Take(500).Select(s => new { s.Id, s.Title })
                .ToListAsync()).Select(s => (s.Id, s.Title))];
        Link = await door.LastAsync(id, HttpContext.RequestAborted);
        Goal = await GoalAsync(practice.Student);
        return true;
    }

    private async Task<(string, string, GoalForecast, int)?> GoalAsync(Student student)
    {
        if (student is not { GoalSongId: { } song, GoalOn: { } on } || on <= Today) return null;
        if (await desk.OpenAsync(song, student.Id, null, HttpContext.RequestAborted) is not { } open) return null;
        var playable = open.Ladder.Playable.ToList();
        var working = Practice.Songs.FirstOrDefault(s => s.Work.SongId == song)?.Rung.Number ?? open.WorkingRung;
        if ((playable.FirstOrDefault(r => r.Number == (student.GoalRung ?? working))
            ?? playable.FirstOrDefault()) is not { } rung)
            return null;
        var days = on.DayNumber - Today.DayNumber;
        return (open.Song.Title, rung.Limits.Label, GoalForecast.Of(rung, open.FitOf(rung)!, student.ToPlayer().Skills, days),
            days);
    }
}
