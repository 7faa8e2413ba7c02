namespace Tembri.Data.Accounts;

/// <summary>A key with which a program reads and writes a studio's data. Only a digest of it is kept.</summary>
/// <remarks>Found before any studio is known, so it stands outside the studio's wall; it holds nothing but where it
/// leads.</remarks>
public sealed class ApiKey
{
    public const int LongestName = 60;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Name { get; set; }

    /// <summary>SHA-256 of the key.</summary>
    public required byte[] Digest { get; set; }

    public DateTimeOffset CreatedAt { get; set; }
    public DateTimeOffset? RevokedAt { get; set; }

    /// <summary>When it was used last, kept to the hour.</summary>
    public DateTimeOffset? SeenAt { get; set; }
}
