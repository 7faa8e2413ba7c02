using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tembri.Core.Planning;

/// <summary>Something a teacher wrote into a plan.</summary>
/// <param name="Id">Names it.</param>
/// <param name="Text">What to do.</param>
/// <param name="Minutes">For how long each day.</param>
public sealed record OwnItem(string Id, string Text, int Minutes);

/// <summary>An item moved from one day to another.</summary>
public sealed record MovedItem(string Key, DateOnly From, DateOnly To);

/// <summary>What a teacher changed in a student's plan.</summary>
public sealed record PlanWishes
{
    private static readonly JsonSerializerOptions Written =
        new(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull };

    /// <summary>The most of each kind of wish.</summary>
    public const int Most = 40;

    /// <summary>The longest own item, in letters.</summary>
    public const int LongestText = 160;

    /// <summary>The most minutes of an own item.</summary>
    public const int MostMinutes = 60;

    /// <summary>Nothing was changed.</summary>
    public static readonly PlanWishes None = new();

    /// <summary>Items that are never to come.</summary>
    public IReadOnlyList<string> LeftOut { get; init; } = [];

    /// <summary>Items that come every day.</summary>
    public IReadOnlyList<string> Fixed { get; init; } = [];

    /// <summary>What the teacher wrote.</summary>
    public IReadOnlyList<OwnItem> Own { get; init; } = [];

    /// <summary>Items moved to another day.</summary>
    public IReadOnlyList<MovedItem> Moved { get; init; } = [];

    /// <summary>Items that come first, in this order.</summary>
    public IReadOnlyList<string> First { get; init; } = [];

    /// <summary>True when nothing was changed.</summary>
    [JsonIgnore]
    public bool IsNone => LeftOut.Count + Fixed.Count + Own.Count + Moved.Count + First.Count == 0;

    /// <summary>Writes them as a document; empty for none.</summary>
    public string ToJson() => IsNone ? "" : JsonSerializer.Serialize(this, Written);

    /// <summary>Reads what <see cref="ToJson"/> wrote; nothing for a text that is empty or none of ours.</summary>
    public static PlanWishes Read(string? json)
    {
        if (string.IsNullOrEmpty(json)) return None;
        try { return JsonSerializer.Deserialize<PlanWishes>(json, Written) ?? None; }
        catch (JsonException) { return None; }
    }
}
