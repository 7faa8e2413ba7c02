using Microsoft.EntityFrameworkCore;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Web.Faults;

namespace Tembri.Web.Ladders;

/// <summary>How a step ended.</summary>
internal enum StepEnd
{
    /// <summary>It was made.</summary>
    Made,
    /// <summary>It was made before; the same step came twice.</summary>
    Known,
    /// <summary>The ladder was changed elsewhere meanwhile; nothing was done.</summary>
    Elsewhere,
    /// <summary>It cannot be; nothing was done.</summary>
    Refused,
}

/// <summary>What a step may change.</summary>
/// <param name="Choice">The ladder's row.</param>
/// <param name="Locks">The shapes that are taken; what is added and removed here is stored.</param>
internal sealed record Decision(LadderChoice Choice, List<LockedShape> Locks)
{
    /// <summary>What the teacher wants of this ladder.</summary>
    public TeacherWishes Wishes
    {
        get => TeacherWishes.Read(Choice.Wishes);
        set => Choice.Wishes = value.IsEmpty ? "" : value.ToJson();
    }

    /// <summary>What changes for the student or the studio; null for nothing.</summary>
    public WiderChange? Wider { get; set; }

    /// <summary>What was done, in words for the history.</summary>
    public string What { get; set; } = "";
}

/// <summary>Makes the teacher's steps on a ladder: each once, on the ladder she saw, or not at all; each with a state to go back
/// to.</summary>
internal sealed class LadderSteps(TembriDbContext context, ArrangingOrders orders, TimeProvider clock)
{
    /// <summary>Said when the ladder is not the one the teacher saw.</summary>
    public const string ChangedElsewhere =
        "This ladder was changed in another tab or on another device. What you see is the newest; do "
            + "your step again if it is missing.";

    /// <summary>Makes a step.</summary>
    /// <param name="song">The song.</param>
    /// <param name="student">The student.</param>
    /// <param name="revision">The count of decisions that was on the page.</param>
    /// <param name="step">Names the step, so that the same one sent again counts once; null without script.</param>
    /// <param name="decide">Writes the decision; answers why it cannot be, or null.</param>
    /// <param name="leaving">Ends the work.</param>
    public Task<(StepEnd End, string? Why)> MakeAsync(Guid song, Guid student, int? revision, Guid? step,
        Func<Decision, Task<string?>> decide, CancellationToken leaving) =>
        WriteAsync(song, student, revision, step, async decision =>
        {
            var before = LadderSnapshot.Of(decision.Choice, decision.Locks).ToJson();
            if (await decide(decision) is { } fault) return fault;
            if (CountOf(decision.Wishes) > TeacherWishes.Most) return TooMany;
            if (decision.Wider is { } wider)
            {
                var now = await WiderAsync(wider.ForStudio, student);
                var change = wider.On(now);
                if (CountOf(change.Do(now)) > TeacherWishes.Most) return TooMany;
                decision.Wider = change.IsEmpty ? null : change;
                if (!change.IsEmpty) await ApplyAsync(wider.ForStudio, student, change.Do);
            }
            var after = LadderSnapshot.Of(decision.Choice, decision.Locks).ToJson();
            // A step that changes nothing is nothing to go back from.
            if (after == before && decision.Wider is null) return null;
            var last = await context.LadderStates.Where(s => s.SongId == song && s.StudentId == student)
                    .MaxAsync(s => (int?)s.Number, leaving) ?? 0;
            if (last == 0 && before != LadderSnapshot.Untouched.ToJson())
            {
                // What was decided before states were kept is the first of them.
                context.AddOwned(new LadderState
                {
                    SongId = song, StudentId = student, Number = last = 1, Before = 0, At = clock.GetUtcNow(),
                    What = "all that was decided before", Decisions = before
                });
                decision.Choice.StateNumber = 1;
            }
            context.AddOwned(new LadderState
            {
                SongId = song, StudentId = student, Number = last + 1, Before = decision.Choice.StateNumber,
                At = clock.GetUtcNow(),
                What = decision.What.Length <= LadderState.LongestWhat
                    ? decision.What
                    : decision.What[..LadderState.LongestWhat], Decisions = after, Wider = decision.Wider?.ToJson() ?? "",
            });
            decision.Choice.StateNumber = last + 1;
            if (last >= LadderState.Most)
                await context.LadderStates.Where(
                        s => s.SongId == song && s.StudentId == student && s.Number <= last - LadderState.Most)
                    .ExecuteDeleteAsync(leaving);
            return null;
        }, leaving);

    /// <summary>Goes back one step.</summary>
    public Task<(StepEnd End, string? Why)> UndoAsync(Guid song, Guid student, int? revision, Guid? step,
        CancellationToken leaving) =>
        WriteAsync(song, student, revision, step, async decision =>
        {
            if (await StateAsync(song, student, decision.Choice.StateNumber, leaving) is not { } state)
                return "There is no step to take back.";
            var before = state.Before == 0 ? null : await StateAsync(song, student, state.Before, leaving);
            if (state.Before != 0 && before is null) return "The steps before this one are no longer kept.";
            Show(decision, before is null ? LadderSnapshot.Untouched : LadderSnapshot.Read(before.Decisions), song, student);
            if (WiderChange.Read(state.Wider) is { } wider) await ApplyAsync(wider.ForStudio, student, wider.Undo);
            decision.Choice.StateNumber = state.Before;
            return null;
        }, leaving);

    /// <summary>Makes the step again that was taken back last.</summary>
    public Task<(StepEnd End, string? Why)> RedoAsync(Guid song, Guid student, int? revision, Guid? step,
        CancellationToken leaving) =>
        WriteAsync(song, student, revision, step, async decision =>
        {
            if (await NextAsync(song, student, decision.Choice.StateNumber, leaving) is not { } next)
                return "There is no step that was taken back.";
            Show(decision, LadderSnapshot.Read(next.Decisions), song, student);
            if (WiderChange.Read(next.Wider) is { } wider) await ApplyAsync(wider.ForStudio, student, wider.Do);
            decision.Choice.StateNumber = next.Number;
            return null;
        }, leaving);

    /// <summary>Brings back what was decided at an older state, as a new step.</summary>
    public Task<(StepEnd End, string? Why)> RestoreAsync(Guid song, Guid student, int number, int? revision, Guid? step,
        CancellationToken leaving) =>
        MakeAsync(song, student, revision, step, async decision =>
        {
            var state = number == 0 ? null : await StateAsync(song, student, number, leaving);
            if (number != 0 && state is null) return "That state is no longer kept.";
            Show(decision, state is null ? LadderSnapshot.Untouched : LadderSnapshot.Read(state.Decisions), song, student);
            decision.What = state is null ? "brought back the untouched ladder" : $"brought back: {state.What}";
            return null;
        }, leaving);

    /// <summary>The states of a ladder, the newest first.</summary>
    public Task<List<LadderState>> StatesAsync(Guid song, Guid student, CancellationToken leaving) =>
        context.LadderStates.AsNoTracking().Where(s => s.SongId == song && s.StudentId == student)
            .OrderByDescending(s => s.Number).ToListAsync(leaving);

    /// <summary>What going back and going on would do, in words; null where there is nothing to do.</summary>
    public async Task<(string? Undo, string? Redo)> AroundAsync(Guid song, Guid student, int state, CancellationToken leaving) =>
        ((await StateAsync(song, student, state, leaving))?.What, (await NextAsync(song, student, state, leaving))?.What);

    private Task<LadderState?> StateAsync(Guid song, Guid student, int number, CancellationToken leaving) =>
        context.LadderStates.AsNoTracking()
            .FirstOrDefaultAsync(s => s.SongId == song && s.StudentId == student && s.Number == number, leaving);

    private Task<LadderState?> NextAsync(Guid song, Guid student, int state, CancellationToken leaving) =>
        context.LadderStates.AsNoTracking().Where(s => s.SongId == song && s.StudentId == student && s.Before == state)
            .OrderByDescending(s => s.Number).FirstOrDefaultAsync(leaving);

    private static void Show(Decision decision, LadderSnapshot snapshot, Guid song, Guid student)
    {
        snapshot.PutInto(decision.Choice);
        decision.Locks.Clear();
        decision.Locks.AddRange(snapshot.Rows(song, student));
    }

    private static int CountOf(TeacherWishes w) =>
        w.Instead.Count + w.StandIns.Count + w.Shapes.Count + w.Kinds.Count + w.Grips.Count + w.Apart.Count + w.Rungs.Count
            + w.Hands.Count;

    private static readonly string TooMany =
        $"{TeacherWishes.Most} decisions of this kind are the most that are kept. Take some back first.";

    private async Task<TeacherWishes> WiderAsync(bool forStudio, Guid student) => TeacherWishes.Read(forStudio
        ? await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Wishes).FirstOrDefaultAsync()
        : await context.Students.Where(s => s.Id == student).Select(s => s.Wishes).FirstOrDefaultAsync());

    private async Task ApplyAsync(bool forStudio, Guid student, Func<TeacherWishes, TeacherWishes> change)
    {
        static string Text(TeacherWishes wishes) => wishes.IsEmpty ? "" : wishes.ToJson();
        if (forStudio)
        {
            var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
            studio.Wishes = Text(change(TeacherWishes.Read(studio.Wishes)));
        }
        else
        {
            var row = await context.Students.SingleAsync(s => s.Id == student);
            row.Wishes = Text(change(TeacherWishes.Read(row.Wishes)));
        }
        _isWide = true;
    }

    private bool _isWide;

    private async Task<(StepEnd End, string? Why)> WriteAsync(Guid song, Guid student, int? revision, Guid? step,
        Func<Decision, Task<string?>> write, CancellationToken leaving)
    {
        context.ChangeTracker.Clear();
        _isWide = false;
        var choice = await context.LadderChoices.FirstOrDefaultAsync(c => c.SongId == song && c.StudentId == student, leaving);
        if (step is not null && choice?.LastStep == step) return (StepEnd.Known, null);
        if ((choice?.Revision ?? 0) != (revision ?? 0)) return (StepEnd.Elsewhere, ChangedElsewhere);
        if (choice is null) context.AddOwned(choice = new LadderChoice { SongId = song, StudentId = student });
        var rows = await context.LockedShapes.Where(l => l.SongId == song && l.StudentId == student).ToListAsync(leaving);
        var decision = new Decision(choice, [.. rows]);
        if (await write(decision) is { } fault)
        {
            context.ChangeTracker.Clear();
            return (StepEnd.Refused, fault);
        }
        (choice.Revision, choice.LastStep) = (choice.Revision + 1, step);
        try
        {
            // Rows that go and rows that come may stand for the same chord: first the one, then the other, together.
            await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
            {
                await using var together = await context.Database.BeginTransactionAsync(leaving);
                var gone = rows.Except(decision.Locks).Select(l => l.Id).ToList();
                foreach (var row in rows.Except(decision.Locks)) context.Entry(row).State = EntityState.Detached;
                if (gone.Count > 0) await context.LockedShapes.Where(l => gone.Contains(l.Id)).ExecuteDeleteAsync(leaving);
                foreach (var row in decision.Locks.Except(rows))
                    if (context.Entry(row).State == EntityState.Detached) context.AddOwned(row);
                await context.SaveChangesAsync(acceptAllChangesOnSuccess: false, leaving);
                await together.CommitAsync(leaving);
            });
            context.ChangeTracker.AcceptAllChanges();
        }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            return (StepEnd.Elsewhere, ChangedElsewhere);
        }
        if (_isWide) await orders.OrderAllAsync(leaving);
        await orders.OrderAsync(song, leaving);
        return (StepEnd.Made, null);
    }
}
