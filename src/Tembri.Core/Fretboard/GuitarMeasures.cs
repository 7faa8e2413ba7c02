using System.Globalization;
using System.Text.Json;

namespace Tembri.Core.Fretboard;

/// <summary>What a teacher measures of a guitar; the rest is that of the preset it is nearest to.</summary>
/// <param name="Preset">Identifier of the preset, such as <c>classical</c>: its strings, tensions, how far down the neck one can
/// reach.</param>
/// <param name="ScaleLength">Nut to saddle, mm.</param>
/// <param name="NutWidth">Width of the fretboard at the nut, mm.</param>
/// <param name="ActionAtFret12">Height of the strings over the twelfth fret, mm.</param>
public sealed record GuitarMeasures(string Preset, double ScaleLength, double NutWidth, double ActionAtFret12)
{
    /// <summary>The measures of a preset.</summary>
    public static GuitarMeasures Of(Guitar guitar) => new(guitar.Id, guitar.ScaleLength, guitar.NutWidth, guitar.ActionAtFret12);

    /// <summary>What is wrong with them, in a sentence; null when nothing is.</summary>
    public string? Fault => this switch
    {
        _ when Guitar.Presets.All(g => g.Id != Preset) => "Choose one of the kinds of strings in the list.",
        { ScaleLength: not (>= 400 and <= 720) } => "The scale length, from nut to saddle, is 400 to 720 mm.",
        { NutWidth: not (>= 35 and <= 60) } => "The neck is 35 to 60 mm wide at the nut.",
        { ActionAtFret12: not (>= 0.8 and <= 6) } => "The strings lie 0.8 to 6 mm over the twelfth fret.",
        _ => null,
    };

    /// <summary>The guitar: string spacing goes with the width of the nut, the height at the first fret with that at the
    /// twelfth, tension with the square of the scale length (Mersenne, 1636).</summary>
    /// <exception cref="ArgumentException">The measures are no guitar's; see <see cref="Fault"/>.</exception>
    public Guitar ToGuitar()
    {
        if (Fault is { } fault) throw new ArgumentException(fault);
        var preset = Guitar.Preset(Preset);
        if (this == Of(preset)) return preset;
        var longer = ScaleLength / preset.ScaleLength;
        return preset with
        {
            Id = string.Create(CultureInfo.InvariantCulture, $"{Preset}-{ScaleLength:0}-{NutWidth:0.#}-{ActionAtFret12:0.#}"),
            ScaleLength = ScaleLength, NutWidth = NutWidth, ActionAtFret12 = ActionAtFret12,
            StringSpreadAtNut = preset.StringSpreadAtNut + (NutWidth - preset.NutWidth),
            ActionAtFret1 = preset.ActionAtFret1 * ActionAtFret12 / preset.ActionAtFret12,
            Tensions = [.. preset.Tensions.Select(t => t * longer * longer)],
        };
    }

    /// <summary>Writes them as a document.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, JsonSerializerOptions.Web);

    /// <summary>Reads what <see cref="ToJson"/> wrote; null for a text that is empty or none of ours.</summary>
    public static GuitarMeasures? FromJson(string? json)
    {
        if (string.IsNullOrEmpty(json)) return null;
        try
        {
            return JsonSerializer.Deserialize<GuitarMeasures>(json, JsonSerializerOptions.Web) is { Fault: null } read
                ? read
                : null;
        }
        catch (JsonException) { return null; }
    }
}
