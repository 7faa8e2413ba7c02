using System.Text.Json;
using Tembri.Data.Studios;

namespace Tembri.Data.Songs;

/// <summary>A song in a set.</summary>
/// <param name="Song">The song.</param>
/// <param name="Rung">The rung it is played on; null for the one that fits.</param>
public sealed record SetSong(Guid Song, int? Rung = null);

/// <summary>Songs in an order: for a lesson group, a concert, a season.</summary>
public sealed class SongSet : IStudioOwned
{
    public const int LongestName = 80;
    public const int MostSongs = 100;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Name { get; set; }

    /// <summary>The day it is played; null when none is set.</summary>
    public DateOnly? On { get; set; }

    /// <summary>Who plays it; versions and capos are those of this student, of a usual hand when null.</summary>
    public Guid? StudentId { get; set; }

    /// <summary>The songs as JSON. One that was removed meanwhile is passed over.</summary>
    public string Songs { get; set; } = "[]";

    public DateTimeOffset ChangedAt { get; set; }
    public Guid? RequestKey { get; set; }
    public uint Version { get; set; }

    /// <summary>The songs in their order.</summary>
    public IReadOnlyList<SetSong> Read()
    {
        try { return JsonSerializer.Deserialize<List<SetSong>>(Songs, Json) ?? []; }
        catch (JsonException) { return []; }
    }

    /// <summary>Keeps songs in an order.</summary>
    public void Write(IEnumerable<SetSong> songs) => Songs = JsonSerializer.Serialize(songs, Json);
}
