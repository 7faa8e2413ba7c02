using Tembri.Core;
using Tembri.Core.Chords;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/chords</c>: reads chord symbols.</summary>
internal static class ChordsCall
{
    public sealed record Request(IReadOnlyList<string?>? Symbols);

    public sealed record Item(string Symbol, bool Ok, string? Name, int? Root, int? Bass, IReadOnlyList<int>? PitchClasses,
        IReadOnlyList<string>? Degrees, string? Error, int? Column);

    public sealed record Answer(IReadOnlyList<Item> Chords);

    public static Answer Handle(Request request, WorkLimits work)
    {
        if (request.Symbols is null) throw new ApiProblem("symbols", "Give the symbols as a list of texts.");
        Requests.CheckBatch(request.Symbols.Count, "symbols");
        return new Answer(
            [.. request.Symbols.Select(symbol => { work.Cancel.ThrowIfCancellationRequested(); return Read(symbol); })]);
    }

    private static Item Read(string? symbol)
    {
        var reading = ChordReader.Read(symbol);
        if (!reading.Ok) return new Item(symbol ?? "", false, null, null, null, null, null, reading.Error, reading.Column);
        if (reading.Chord is not { } chord) return new Item(symbol ?? "", true, "N.C.", null, null, [], [], null, null);
        return new Item(symbol ?? "", true, chord.Name, chord.Root.PitchClass, chord.BassPitchClass, chord.PitchClasses,
            [.. chord.Degrees.Select(d => d.ToAscii())], null, null);
    }
}
