using Tembri.Core;
using System.Text.Json;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/shapes</c>: the teachable shapes of one sounding chord, the most teachable first.</summary>
internal static class ShapesCall
{
    public sealed record Request(string? Chord, int? Capo, IReadOnlyList<int>? Tuning, string? Hand, string? Guitar, bool? Thumb,
        string? Company, int? Top);

    public sealed record ShapeItem(IReadOnlyList<int?> Frets, IReadOnlyList<int> Fingers, double Load, double Closeness,
        string Source, string Swap, string Description, IReadOnlyList<string> Names);

    public sealed record Answer(string Chord, string ShapeName, IReadOnlyList<ShapeItem> Shapes);

    public static Answer Handle(Request request, ResultCache results)
    {
        var chord = Requests.ToChord(request.Chord, "chord");
        var capo = Requests.ToCapo(request.Capo);
        var tuning = Requests.ToTuning(request.Tuning);
        var top = Requests.ToTop(request.Top, 40, 400);
        var book = new FingeringBook(results, Requests.ToGuitar(request.Guitar), Requests.ToHand(request.Hand),
            request.Thumb ?? true, capo);
        var accompaniment = Requests.ToChoice(request.Company, Accompaniment.Record, "company");
        var key = KeyFinder.Guess([chord]);
        var shapeKey = key.Transpose(-capo);
        var shapeChord = chord.Transpose(key, shapeKey);
        var shapes = new CandidateFinder(results).For(shapeChord, book, accompaniment, tuning)
            .GroupBy(c => c.Fingering.Shape).Select(g => g.MinBy(CandidateFinder.Strangeness)!)
            .OrderBy(CandidateFinder.Strangeness).ThenBy(c => c.Fingering.ToString(), StringComparer.Ordinal).Take(top);
        return new Answer(chord.Name, shapeChord.Name, [.. shapes.Select(c => Describe(c, tuning, shapeKey))]);
    }

    private static ShapeItem Describe(Candidate c, Tuning tuning, Key shapeKey) => new(
        Requests.FromShape(c.Fingering.Shape), [.. c.Fingering.Fingers.Select(f => (int)f)], Math.Round(c.Load, 2),
        Math.Round(100 * c.Closeness.Value, 1),
        JsonNamingPolicy.CamelCase.ConvertName(c.Origin!.Source.ToString()), SubstitutionWords.Name(c),
        ShapeWords.Say(c.Origin, c.Fingering.Shape, NoteNames.AsKey),
        [.. ChordNamer.Name(c.Fingering.Shape.PitchClassMask(tuning), c.Fingering.Shape.BassPitchClass(tuning), shapeKey).Take(3)
            .Select(n => n.Name)]);
}
