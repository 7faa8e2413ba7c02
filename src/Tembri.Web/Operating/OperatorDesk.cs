using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;
using Tembri.Web.Accounts;
using Tembri.Web.Archive;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Operating;

/// <summary>What an operator asked for cannot be done; the message says what to do.</summary>
internal sealed class OperatorException(string message) : Exception(message);

/// <summary>A studio as an operator sees it: how much is there, never what.</summary>
internal sealed record StudioRow(Guid Id, string Name, DateTimeOffset CreatedAt, DateTimeOffset? ClosedAt, bool IsDemo,
    IReadOnlyList<string> Emails, int Songs, int Students, DateTimeOffset? SeenAt);

/// <summary>What somebody who runs Tembri for others does: open, close, take out, bring back and erase studios, help somebody
/// in, have everything arranged anew. Each leaves a line in the trail.</summary>
/// <remarks>The page and the command line do the same through it. What changes studios or accounts and its line are one
/// transaction; what only reads or orders work is written down before it is handed out or begun.</remarks>
internal sealed class OperatorDesk(TembriDbContext context, IServiceScopeFactory scopes, AccountDoor door,
    UserManager<Teacher> users, TimeProvider clock)
{
    /// <summary>Who acts; set by the page or the command line before anything is done.</summary>
    public string Who { get; set; } = "";

    /// <summary>Studios by a part of their name, a teacher's address or an identifier; all, the newest first, when nothing is
    /// asked.</summary>
    public async Task<IReadOnlyList<StudioRow>> FindAsync(string? asked, int most, CancellationToken leaving)
    {
        var studios = context.Studios.AsNoTracking();
        var text = asked?.Trim() ?? "";
        if (Guid.TryParse(text, out var id)) studios = studios.Where(s => s.Id == id);
        else if (text.Contains('@', StringComparison.Ordinal))
        {
            var normalized = users.NormalizeEmail(text);
            studios = studios.Where(s => context.Users.Any(t => t.StudioId == s.Id && t.NormalizedEmail == normalized));
        }
        else if (text.Length > 0) studios = studios.Where(s => EF.Functions.ILike(s.Name, $"%{Escaped(text)}%", "!"));
        var found = await studios.OrderByDescending(s => s.CreatedAt).ThenBy(s => s.Id).Take(most).ToListAsync(leaving);
        var ids = found.Select(s => s.Id).ToList();
        var emails = (await context.Users.AsNoTracking().Where(t => ids.Contains(t.StudioId))
                .Select(t => new { t.StudioId, t.Email }).ToListAsync(leaving)).ToLookup(t => t.StudioId, t => t.Email ?? "");
        var seen = (await context.Sessions.AsNoTracking().Where(s => ids.Contains(s.Teacher!.StudioId))
                .GroupBy(s => s.Teacher!.StudioId).Select(g => new { g.Key, At = g.Max(s => s.SeenAt) }).ToListAsync(leaving))
            .ToDictionary(s => s.Key, s => s.At);
        var rows = new List<StudioRow>();
        foreach (var studio in found)
        {
            // The wall between studios holds for an operator's queries too: each is entered to be counted.
            var (songs, students) = await InAsync(studio.Id, async services =>
            {
                var inside = services.GetRequiredService<TembriDbContext>();
                return (await inside.Songs.CountAsync(leaving), await inside.Students.CountAsync(leaving));
            });
            rows.Add(new StudioRow(studio.Id, studio.Name, studio.CreatedAt, studio.ClosedAt, studio.IsDemo,
                [.. emails[studio.Id]], songs, students, seen.TryGetValue(studio.Id, out var at) ? at : null));
        }
        return rows;
    }

    /// <summary>How many studios there are.</summary>
    public Task<int> CountAsync(CancellationToken leaving) => context.Studios.CountAsync(leaving);

    /// <summary>The last lines of the trail.</summary>
    public Task<List<OperatorAct>> TrailAsync(int most, CancellationToken leaving) =>
        context.OperatorActs.AsNoTracking().OrderByDescending(a => a.At).ThenByDescending(a => a.Id).Take(most)
            .ToListAsync(leaving);

    /// <summary>Opens a studio. Its teacher has no password yet.</summary>
    /// <returns>The teacher and the way to choose a password, as a path; it holds for two hours and once.</returns>
    public async Task<(Teacher Teacher, string Way)> OpenAsync(string? name, string? email, CancellationToken leaving)
    {
        var called = PlainText.Cut(PlainText.OneLine(name ?? ""), 80);
        var address = (email ?? "").Trim();
        if (called.Length == 0) throw new OperatorException("Give the studio a name.");
        if (address.Length == 0 || !new EmailAttribute().IsValid(address))
            throw new OperatorException("Give the email address of its teacher.");
        var teacher = await ActAsync("open", null, called, "", async () =>
        {
            var studio = new Studio { Name = called, CreatedAt = clock.GetUtcNow() };
            context.Studios.Add(studio);
            await context.SaveChangesAsync(leaving);
            var made = door.New(address, studio.Id);
            // Nobody can sign in with no password; the way below sets the first.
            var created = await users.CreateAsync(made);
            if (!created.Succeeded) throw new OperatorException(string.Join(" ", created.Errors.Select(e => e.Description)));
            return (made, studio.Id);
        }, leaving);
        return (teacher, await WayAsync(teacher));
    }

    /// <summary>Closes a studio: nobody gets in, by password, link or key; nothing is lost.</summary>
    public async Task CloseAsync(Guid id, string? why, CancellationToken leaving)
    {
        var studio = await StudioAsync(id, leaving);
        if (studio.ClosedAt is not null) throw new OperatorException($"“{studio.Name}” is closed already.");
        var note = PlainText.Cut(PlainText.OneLine(why ?? ""), OperatorAct.LongestNote);
        await ActAsync("close", id, studio.Name, note, async () =>
        {
            var now = clock.GetUtcNow();
            await context.Studios.Where(s => s.Id == id)
                .ExecuteUpdateAsync(set => set.SetProperty(s => s.ClosedAt, now), leaving);
            await context.Sessions.Where(s => s.Teacher!.StudioId == id).ExecuteDeleteAsync(leaving);
            return (id, (Guid?)id);
        }, leaving);
    }

    /// <summary>Opens a closed studio again.</summary>
    public async Task ReopenAsync(Guid id, CancellationToken leaving)
    {
        var studio = await StudioAsync(id, leaving);
        if (studio.ClosedAt is null) throw new OperatorException($"“{studio.Name}” is not closed.");
        await ActAsync("reopen", id, studio.Name, "", async () =>
        {
            await context.Studios.Where(s => s.Id == id)
                .ExecuteUpdateAsync(set => set.SetProperty(s => s.ClosedAt, (DateTimeOffset?)null), leaving);
            return (id, (Guid?)id);
        }, leaving);
    }

    /// <summary>Takes a studio out as an archive.</summary>
    public async Task<(byte[] File, string Name)> ExportAsync(Guid id, CancellationToken leaving)
    {
        var studio = await StudioAsync(id, leaving);
        var file = await InAsync(id, services => services.GetRequiredService<StudioArchive>().WriteAsync(leaving));
        await ActAsync("export", id, studio.Name, $"{file.Length:N0} bytes", () => Task.FromResult((id, (Guid?)id)), leaving);
        return (file, studio.Name);
    }

    /// <summary>Opens a studio of an archive, beside whatever is there: a studio of another time, or of another
    /// installation.</summary>
    public async Task<(Teacher Teacher, string Way, IReadOnlyList<string> Said)> BringAsync(string? name, string? email,
        Stream file, CancellationToken leaving)
    {
        var (teacher, way) = await OpenAsync(name, email, leaving);
        try
        {
            var brought = await InAsync(teacher.StudioId,
                services => services.GetRequiredService<StudioArchive>().ReadAsync(file, leaving));
            await ActAsync("bring", teacher.StudioId, name ?? "", string.Join("; ", brought.Said), async () =>
            {
                // An empty studio takes the archive's settings, its name among them; here it has one, to be told apart from its
                // present self.
                await context.Studios.Where(s => s.Id == teacher.StudioId)
                    .ExecuteUpdateAsync(set => set.SetProperty(s => s.Name, PlainText.Cut(PlainText.OneLine(name!), 80)),
                        leaving);
                return (true, (Guid?)teacher.StudioId);
            }, leaving);
            return (teacher, way, brought.Said);
        }
        catch (FormatException e)
        {
            await ActAsync("erase", teacher.StudioId, name ?? "", "its archive could not be read", async () =>
            {
                await context.Studios.Where(s => s.Id == teacher.StudioId).ExecuteDeleteAsync(leaving);
                return (true, (Guid?)teacher.StudioId);
            }, leaving);
            throw new OperatorException($"{e.Message} No studio was opened.");
        }
    }

    /// <summary>Erases a studio with all it holds.</summary>
    /// <param name="id">The studio.</param>
    /// <param name="name">Its name, to be sure.</param>
    /// <param name="leaving">Ends the work.</param>
    public async Task EraseAsync(Guid id, string? name, CancellationToken leaving)
    {
        context.MayTakeLong();
        var studio = await StudioAsync(id, leaving);
        if (name?.Trim() != studio.Name)
            throw new OperatorException($"Write the name of the studio, “{studio.Name}”, to erase it. Nothing was changed.");
        await ActAsync("erase", id, studio.Name, "", async () =>
        {
            await context.Studios.Where(s => s.Id == id).ExecuteDeleteAsync(leaving);
            return (id, (Guid?)id);
        }, leaving);
    }

    /// <summary>A way to a new password for a teacher, as a path; it holds for two hours and once. The old password holds until
    /// then.</summary>
    /// <param name="asked">The address or the identifier of the account.</param>
    /// <param name="leaving">Ends the work.</param>
    public async Task<(Teacher Teacher, string Way)> ResetAsync(string? asked, CancellationToken leaving)
    {
        var text = asked?.Trim() ?? "";
        var teachers = Guid.TryParse(text, out var id)
            ? await context.Users.Where(t => t.Id == id || t.StudioId == id).ToListAsync(leaving)
            : await door.OfAsync(text);
        if (teachers.Count == 0) throw new OperatorException("No account has this address or identifier.");
        if (teachers.Count > 1)
            throw new OperatorException($"{teachers.Count} accounts have this address; name one by the identifier of its "
                + $"studio: {string.Join(", ", teachers.Select(t => t.StudioId))}.");
        var teacher = teachers[0];
        var studio = await StudioAsync(teacher.StudioId, leaving);
        await ActAsync("reset password", studio.Id, studio.Name, "", () => Task.FromResult((true, (Guid?)studio.Id)), leaving);
        return (teacher, await WayAsync(teacher));
    }

    /// <summary>Has a studio, or all of them, arranged anew in the background.</summary>
    /// <returns>How many studios.</returns>
    public async Task<int> RegradeAsync(Guid? id, CancellationToken leaving)
    {
        var studios = id is { } one
            ? [(await StudioAsync(one, leaving)).Id]
            : await context.Studios.Select(s => s.Id).ToListAsync(leaving);
        // The line comes first: what is begun is not forgotten when it breaks off.
        await ActAsync("re-grade", id, "", studios.Count == 1 ? "" : $"{studios.Count} studios",
            () => Task.FromResult((true, id)), leaving);
        foreach (var studio in studios)
            await InAsync(studio, async services =>
            {
                var inside = services.GetRequiredService<TembriDbContext>();
                await inside.ArrangedLadders.ExecuteDeleteAsync(leaving);
                await services.GetRequiredService<ArrangingOrders>().OrderAllAsync(leaving);
                return true;
            });
        return studios.Count;
    }

    /// <summary>Lets an account see the operator's page, or no more.</summary>
    public async Task AppointAsync(string? asked, bool may, CancellationToken leaving)
    {
        var teachers = Guid.TryParse(asked, out var id)
            ? await context.Users.Where(t => t.Id == id || t.StudioId == id).ToListAsync(leaving)
            : await door.OfAsync(asked ?? "");
        if (teachers.Count != 1)
            throw new OperatorException(teachers.Count == 0
                ? "No account has this address or identifier."
                : $"{teachers.Count} accounts have this address; name one by the identifier of its studio.");
        var teacher = teachers[0];
        var studio = await StudioAsync(teacher.StudioId, leaving);
        if (studio.IsDemo)
            throw new OperatorException("The demo's account belongs to all its visitors; it cannot be an operator's.");
        await ActAsync(may ? "appoint operator" : "dismiss operator", studio.Id, studio.Name, teacher.Email ?? "", async () =>
        {
            await context.Users.Where(t => t.Id == teacher.Id)
                .ExecuteUpdateAsync(set => set.SetProperty(t => t.IsOperator, may), leaving);
            return (true, (Guid?)studio.Id);
        }, leaving);
    }

    private async Task<Studio> StudioAsync(Guid id, CancellationToken leaving) =>
        await context.Studios.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, leaving)
            ?? throw new OperatorException("There is no such studio.");

    private async Task<string> WayAsync(Teacher teacher)
    {
        var known = await users.FindByIdAsync(teacher.Id.ToString()) ?? teacher;
        return $"/account/reset?user={teacher.Id}&token={Uri.EscapeDataString(await users.GeneratePasswordResetTokenAsync(known))}";
    }

    /// <summary>Does something together with its line in the trail.</summary>
    private Task<T> ActAsync<T>(string what, Guid? studio, string name, string note, Func<Task<(T Result, Guid? Studio)>> act,
        CancellationToken leaving) => context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
    {
        context.ChangeTracker.Clear();
        await using var transaction = await context.Database.BeginTransactionAsync(leaving);
        var (result, made) = await act();
        context.OperatorActs.Add(new OperatorAct
        {
            At = clock.GetUtcNow(), Who = PlainText.Cut(Who, OperatorAct.LongestWho), What = what, StudioId = made ?? studio,
            StudioName = PlainText.Cut(PlainText.OneLine(name), 80),
            Note = PlainText.Cut(PlainText.OneLine(note), OperatorAct.LongestNote),
        });
        await context.SaveChangesAsync(leaving);
        await transaction.CommitAsync(leaving);
        return result;
    });

    /// <summary>Works inside a studio.</summary>
    private async Task<T> InAsync<T>(Guid studio, Func<IServiceProvider, Task<T>> work)
    {
        await using var scope = scopes.CreateAsyncScope();
        ((SignedInStudio)scope.ServiceProvider.GetRequiredService<ICurrentStudio>()).Override = studio;
        return await work(scope.ServiceProvider);
    }

    private static string Escaped(string text) =>
        text.Replace("!", "!!", StringComparison.Ordinal).Replace("%", "!%", StringComparison.Ordinal)
            .Replace("_", "!_", StringComparison.Ordinal);
}
