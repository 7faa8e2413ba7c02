using Tembri.Core.Music;

namespace Tembri.Web.Sheets;

/// <summary>What of a version stands on a sheet.</summary>
internal enum SheetKind
{
    /// <summary>Everything: shapes, right hand, what is new, form, chart.</summary>
    Whole,
    /// <summary>The chart alone.</summary>
    Chart,
    /// <summary>The shapes alone.</summary>
    Shapes,
    /// <summary>Words with the chords above them.</summary>
    Words,
    /// <summary>The form with its counts, without words.</summary>
    Form,
    /// <summary>Everything in words, shapes read out finger by finger.</summary>
    Spoken,
}

/// <summary>How sheets are wanted.</summary>
/// <param name="Kind">What stands on them.</param>
/// <param name="IsLetter">True for US Letter, false for A4.</param>
/// <param name="Large">True for large print.</param>
/// <param name="Words">True with the song's words.</param>
/// <param name="FretsFromNut">True when fret numbers count from the nut.</param>
/// <param name="Names">How notes are named.</param>
internal sealed record SheetAsked(SheetKind Kind, bool IsLetter, bool Large, bool Words, bool FretsFromNut, NoteNames Names)
{
    /// <summary>Where the student's own page is, to stand on the sheet as a code; null without.</summary>
    public string? Address { get; init; }

    /// <summary>The kinds in words.</summary>
    public static string Say(SheetKind kind) => kind switch
    {
        SheetKind.Whole => "everything", SheetKind.Chart => "only the chart", SheetKind.Shapes => "only the shapes",
        SheetKind.Words => "words with chords above", SheetKind.Form => "form with counts", _ => "read out in words",
    };
}

/// <summary>How a studio wants its sheets unless it is said otherwise.</summary>
/// <param name="Kind">What stands on them.</param>
/// <param name="IsLetter">True for US Letter, false for A4.</param>
/// <param name="Large">True for large print.</param>
internal sealed record SheetHabits(SheetKind Kind = SheetKind.Whole, bool IsLetter = false, bool Large = false)
{
    private static readonly System.Text.Json.JsonSerializerOptions Json = new(System.Text.Json.JsonSerializerDefaults.Web)
    {
        Converters = { new System.Text.Json.Serialization.JsonStringEnumConverter() }
    };

    /// <summary>Reads what <see cref="ToJson"/> wrote; what cannot be read is as usual.</summary>
    public static SheetHabits FromJson(string json)
    {
        try
        {
            return json.Length == 0
                ? new SheetHabits()
                : System.Text.Json.JsonSerializer.Deserialize<SheetHabits>(json, Json) ?? new SheetHabits();
        }
        catch (System.Text.Json.JsonException) { return new SheetHabits(); }
    }

    /// <summary>As it is stored.</summary>
    public string ToJson() => System.Text.Json.JsonSerializer.Serialize(this, Json);
}
