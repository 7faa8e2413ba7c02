using Tembri.Core;
using System.Text.Json;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/fingerings</c>: all sensible fingerings of shapes, lightest first.</summary>
internal static class FingeringsCall
{
    public sealed record Request(IReadOnlyList<IReadOnlyList<int?>?>? Shapes, int? Capo, IReadOnlyList<int>? Tuning,
        string? Hand, string? Guitar, bool? Thumb, int? Top);

    public sealed record BarreItem(int Finger, int Fret, int LowString, int HighString);

    public sealed record PartItem(string Part, double Effort, double Measure, string Unit);

    public sealed record FingeringItem(IReadOnlyList<int> Fingers, IReadOnlyList<BarreItem> Barres, double Load,
        IReadOnlyList<PartItem> Parts)
    {
        public static FingeringItem From(Fingering f) => new(
            [.. f.Fingers.Select(x => (int)x)],
            [.. f.Barres.Select(b => new BarreItem((int)b.Finger, b.Fret, b.LowString, b.HighString))],
            Math.Round(f.Load.Value, 2),
            [.. f.Parts.Select(p => new PartItem(JsonNamingPolicy.CamelCase.ConvertName(p.Kind.ToString()),
                Math.Round(p.Effort, 2), Math.Round(p.Measure, 2), p.Unit))]);
    }

    public sealed record ShapeItem(IReadOnlyList<int?> Frets, IReadOnlyList<FingeringItem> Fingerings);

    public sealed record Answer(IReadOnlyList<ShapeItem> Shapes);

    public static Answer Handle(Request request, WorkLimits work)
    {
        if (request.Shapes is null) throw new ApiProblem("shapes", "Give the shapes as lists of frets.");
        Requests.CheckBatch(request.Shapes.Count, "shapes");
        var strings = Requests.ToTuning(request.Tuning).Strings.Count;
        var top = Requests.ToTop(request.Top, 5, 50);
        var finder = new FingeringFinder(new NeckGeometry(Requests.ToGuitar(request.Guitar), Requests.ToCapo(request.Capo)),
            Requests.ToHand(request.Hand), request.Thumb ?? true);
        return new Answer([.. request.Shapes.Select((frets, i) =>
        {
            work.Cancel.ThrowIfCancellationRequested();
            var shape = Requests.ToShape(frets, $"shapes[{i}]", strings);
            return new ShapeItem(Requests.FromShape(shape), [.. finder.Find(shape, top).Select(FingeringItem.From)]);
        })]);
    }
}
