using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Accounts;

/// <summary>Finds who somebody is by email and password, and opens studios.</summary>
/// <remarks>
/// Several accounts may have the same email: opening a studio then says nothing about others with that email, and cannot take an
/// address away from its owner.
/// Each try checks as many passwords whether there are accounts or not, so that time tells nothing either.
/// </remarks>
internal sealed class AccountDoor(TembriDbContext context, UserManager<Teacher> users, IPasswordHasher<Teacher> hasher,
    ILookupNormalizer normalizer, TimeProvider clock, ILogger<AccountDoor> log)
{
    private const int ChecksAtLeast = 3;
    private static readonly Teacher Nobody = new();
    private static string? _nobodysHash;

    /// <summary>The account of an email and a password, the oldest when several fit; null when none does.</summary>
    public async Task<Teacher?> FindAsync(string email, string password)
    {
        var teachers = await OfAsync(email);
        Teacher? found = null;
        foreach (var teacher in teachers)
        {
            if (await FitsAsync(teacher, password)) found ??= teacher;
        }
        for (var i = teachers.Count; i < ChecksAtLeast; i++)
            hasher.VerifyHashedPassword(Nobody, _nobodysHash ??= hasher.HashPassword(Nobody, "nobody has this"), password);
        return found;
    }

    /// <summary>True when a password is the one of an account. A digest from before is then made anew; no browser is signed out
    /// by that, since the password stays what it was.</summary>
    public async Task<bool> FitsAsync(Teacher teacher, string password)
    {
        var before = teacher.PasswordHash ?? "";
        var result = hasher.VerifyHashedPassword(teacher, before, password);
        if (result != PasswordVerificationResult.SuccessRehashNeeded) return result == PasswordVerificationResult.Success;
        var anew = hasher.HashPassword(teacher, password);
        var changed = await context.Users.Where(t => t.Id == teacher.Id && t.PasswordHash == before)
            .ExecuteUpdateAsync(t => t.SetProperty(x => x.PasswordHash, anew));
        if (changed > 0) teacher.PasswordHash = anew;
        return true;
    }

    /// <summary>True when an operator closed the studio of an account.</summary>
    public Task<bool> IsClosedAsync(Teacher teacher) =>
        context.Studios.AnyAsync(s => s.Id == teacher.StudioId && s.ClosedAt != null);

    /// <summary>All accounts of an email, the oldest first.</summary>
    public Task<List<Teacher>> OfAsync(string email)
    {
        var normalized = normalizer.NormalizeEmail(email.Trim());
        return context.Users.Where(t => t.NormalizedEmail == normalized).OrderBy(t => t.OpenedAt).ThenBy(t => t.Id)
            .ToListAsync();
    }

    /// <summary>Opens a studio. Whoever has one already with this email and password gets that one, so that a form sent twice
    /// opens one.</summary>
    /// <returns>The teacher, or what is wrong with the password.</returns>
    public async Task<(Teacher? Teacher, IReadOnlyList<string> Faults)> OpenAsync(string studioName, string email,
        string password)
    {
        var faults = await FaultsOfAsync(password);
        if (faults.Count > 0) return (null, faults);
        return await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
        {
            context.ChangeTracker.Clear();
            await using var transaction = await context.Database.BeginTransactionAsync();
            // Equal requests at the same moment come one after the other.
            var turn = "open " + normalizer.NormalizeEmail(email.Trim());
            await context.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(hashtextextended({turn}, 0))");
            if (await FindAsync(email, password) is { } known) return (known, (IReadOnlyList<string>)[]);
            var studio = new Studio { Name = PlainText.Cut(PlainText.OneLine(studioName), 80), CreatedAt = clock.GetUtcNow() };
            context.Studios.Add(studio);
            await context.SaveChangesAsync();
            var teacher = New(email, studio.Id);
            var created = await users.CreateAsync(teacher, password);
            if (!created.Succeeded) return (null, [.. created.Errors.Select(e => e.Description)]);
            await transaction.CommitAsync();
            log.LogInformation("A studio was opened: {Studio}", studio.Id);
            return ((Teacher?)teacher, (IReadOnlyList<string>)[]);
        });
    }

    /// <summary>A new account; it is named by itself, not by its email.</summary>
    public Teacher New(string email, Guid studio) =>
        new()
        {
            UserName = Guid.CreateVersion7().ToString("N"), Email = email.Trim(), StudioId = studio,
            OpenedAt = clock.GetUtcNow(), LockoutEnabled = false
        };

    private async Task<IReadOnlyList<string>> FaultsOfAsync(string password)
    {
        foreach (var validator in users.PasswordValidators)
            if (await validator.ValidateAsync(users, Nobody, password) is { Succeeded: false } refused)
                return [.. refused.Errors.Select(e => e.Description)];
        return [];
    }
}
