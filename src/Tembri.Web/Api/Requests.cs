using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Web.Api;

/// <summary>Turns the plain values of the HTTP contract into domain values, naming the field that is wrong.</summary>
internal static class Requests
{
    public const int LargestBatch = 5_000;

    public static Shape ToShape(IReadOnlyList<int?>? frets, string field, int strings)
    {
        if (frets is null)
            throw new ApiProblem(field,
                "This shape is missing; give a fret for each string, lowest string first, null for a string left out.");
        if (frets.Count != strings)
            throw new ApiProblem(field, $"This shape has {frets.Count} strings, the tuning has {strings}.");
        for (var i = 0; i < frets.Count; i++)
            if (frets[i] is < 0 or > Shape.HighestFret)
                throw new ApiProblem($"{field}[{i}]",
                    $"Fret {frets[i]} is out of range; use null, 0 or 1 to {Shape.HighestFret}.");
        try { return new Shape([.. frets.Select(f => f ?? Shape.LeftOut)]); }
        catch (ArgumentException e) { throw new ApiProblem(field, Plain(e)); }
    }

    public static IReadOnlyList<int?> FromShape(Shape shape) => [.. shape.Frets.Select(f => f < 0 ? (int?)null : f)];

    public static IReadOnlyList<Finger>? ToFingers(IReadOnlyList<int>? fingers, string field, int strings)
    {
        if (fingers is null || fingers.Count == 0) return null;
        if (fingers.Count != strings) throw new ApiProblem(field, $"There are {fingers.Count} fingers for {strings} strings.");
        for (var i = 0; i < fingers.Count; i++)
            if (fingers[i] is < 0 or > 5)
                throw new ApiProblem($"{field}[{i}]",
                    $"Finger {fingers[i]} is out of range; use 0 for none, 1 to 4, 5 for the thumb.");
        return [.. fingers.Select(f => (Finger)f)];
    }

    public static Tuning ToTuning(IReadOnlyList<int>? tuning)
    {
        if (tuning is null) return Tuning.Standard;
        try { return new Tuning(tuning); }
        catch (ArgumentException e) { throw new ApiProblem("tuning", Plain(e)); }
    }

    public static Hand ToHand(string? id, string field = "hand") =>
        Preset(() => id is null ? Hand.Medium : Hand.Preset(id), field);

    public static Guitar ToGuitar(string? id, string field = "guitar") =>
        Preset(() => id is null ? Guitar.Steel : Guitar.Preset(id), field);

    public static int ToCapo(int? capo, string field = "capo") =>
        capo is null or (>= 0 and <= NeckGeometry.HighestCapo)
            ? capo ?? 0
            : throw new ApiProblem(field, $"Capo {capo} is out of range; use 0 to {NeckGeometry.HighestCapo}.");

    public static int ToTop(int? top, int usual, int most) =>
        top is null or (>= 1) && top <= most || top is null
            ? top ?? usual
            : throw new ApiProblem("top", $"'top' is 1 to {most}.");

    public static T ToChoice<T>(string? value, T usual, string field) where T : struct, Enum =>
        value is null ? usual
        : Enum.TryParse<T>(value, ignoreCase: true, out var parsed) && !char.IsAsciiDigit(value.FirstOrDefault()) ? parsed
        : throw new ApiProblem(field,
            $"'{value}' is not known; use {string.Join(", ", Enum.GetNames<T>().Select(n => n.ToLowerInvariant()))}.");

    public static Chord ToChord(string? symbol, string field)
    {
        var reading = ChordReader.Read(symbol);
        return reading.Chord
            ?? throw new ApiProblem(field,
                reading.Error is null ? "N.C. has no shapes; give a chord." : $"{reading.Error} (column {reading.Column})");
    }

    public static void CheckBatch(int count, string field)
    {
        if (count > LargestBatch)
            throw new ApiProblem(field, $"A batch has at most {LargestBatch} items; this one has {count}.");
    }

    private static T Preset<T>(Func<T> find, string field)
    {
        try { return find(); }
        catch (KeyNotFoundException e) { throw new ApiProblem(field, e.Message); }
    }

    private static string Plain(ArgumentException e) => e.Message.Split(" (Parameter")[0];
}
