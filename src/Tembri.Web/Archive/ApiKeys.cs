using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;

namespace Tembri.Web.Archive;

/// <summary>The keys with which programs read and write a studio's data: 192 random bits, of which only a digest is
/// stored.</summary>
internal sealed class ApiKeys(TembriDbContext context, TimeProvider clock)
{
    /// <summary>What every key begins with.</summary>
    public const string Start = "tembri_";

    /// <summary>The most keys of a studio that hold.</summary>
    public const int Most = 20;

    private const int SecretBytes = 24;
    private static readonly TimeSpan SeenEvery = TimeSpan.FromHours(1);

    /// <summary>The keys of the studio that hold, the newest first.</summary>
    public Task<List<ApiKey>> ListAsync(CancellationToken leaving) =>
        context.ApiKeys.AsNoTracking().Where(k => k.StudioId == context.CurrentStudioId && k.RevokedAt == null)
            .OrderByDescending(k => k.CreatedAt).ToListAsync(leaving);

    /// <summary>Makes a key.</summary>
    /// <returns>The key itself, which is shown once.</returns>
    public async Task<string> MakeAsync(string name, CancellationToken leaving)
    {
        var key = Start + Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(SecretBytes));
        context.ApiKeys.Add(new ApiKey
        {
            StudioId = context.CurrentStudioId ?? throw new InvalidOperationException("A key belongs to a studio."), Name = name,
            Digest = DigestOf(key), CreatedAt = clock.GetUtcNow()
        });
        await context.SaveChangesAsync(leaving);
        return key;
    }

    /// <summary>Ends a key.</summary>
    public async Task<bool> RevokeAsync(Guid id, CancellationToken leaving)
    {
        var now = clock.GetUtcNow();
        return await context.ApiKeys.Where(k => k.Id == id && k.StudioId == context.CurrentStudioId && k.RevokedAt == null)
                .ExecuteUpdateAsync(set => set.SetProperty(k => k.RevokedAt, now), leaving) > 0;
    }

    /// <summary>The studio a key opens; null when it opens none.</summary>
    public async Task<Guid?> FindAsync(string key, CancellationToken leaving)
    {
        if (!key.StartsWith(Start, StringComparison.Ordinal)
            || key.Length != Start.Length + Base64Url.GetEncodedLength(SecretBytes))
            return null;
        var (digest, now) = (DigestOf(key), clock.GetUtcNow());
        if (await context.ApiKeys.FirstOrDefaultAsync(
            k => k.Digest == digest && k.RevokedAt == null && context.Studios.Any(s => s.Id == k.StudioId && s.ClosedAt == null),
            leaving) is not { } found)
            return null;
        if (found.SeenAt is null || now - found.SeenAt > SeenEvery)
        {
            found.SeenAt = now;
            await context.SaveChangesAsync(leaving);
        }
        return found.StudioId;
    }

    private static byte[] DigestOf(string key) => SHA256.HashData(Encoding.ASCII.GetBytes(key));
}
