using Tembri.Core;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/changes</c>: what the fingers do between two shapes, and how long it takes.</summary>
internal static class ChangesCall
{
    public sealed record Side(IReadOnlyList<int?>? Frets, IReadOnlyList<int>? Fingers);

    public sealed record Request(Side? From, Side? To, int? Capo, string? Hand, string? Guitar, bool? Thumb);

    public sealed record AnswerSide(IReadOnlyList<int?> Frets, IReadOnlyList<int> Fingers, double Load);

    public sealed record Answer(
        double Seconds, double DwellSeconds, double CountAMinute, IReadOnlyList<int> Parked, IReadOnlyList<int> Guides,
        IReadOnlyList<int> Moving, IReadOnlyList<int> Landing, IReadOnlyList<int> Lifting,
        int Blocks, double ShiftMm, AnswerSide From, AnswerSide To);

    public static Answer Handle(Request request, WorkLimits work)
    {
        var neck = new NeckGeometry(Requests.ToGuitar(request.Guitar), Requests.ToCapo(request.Capo));
        var finder = new FingeringFinder(neck, Requests.ToHand(request.Hand), request.Thumb ?? true);
        var model = new ChangeModel(neck);
        var from = Options(request.From, "from", finder);
        var to = Options(request.To, "to", finder);
        var best = from.SelectMany(f => to.Select(t => (f, t))).MinBy(p => model.Easiness(p.f, p.t).Cost);
        var change = model.Between(best.f, best.t);
        return new Answer(Math.Round(change.Seconds, 3), ChangeWeights.Default.Dwell,
            Math.Round(TimedChanges.CountOf(change.Seconds), 1), Numbers(change.Anchors), Numbers(change.Guides),
            Numbers(change.Moving), Numbers(change.Landing), Numbers(change.Lifting),
            change.Blocks, Math.Round(change.ShiftMm, 1), Describe(best.f), Describe(best.t));
    }

    private static List<Fingering> Options(Side? side, string field, FingeringFinder finder)
    {
        var shape = Requests.ToShape(side?.Frets, $"{field}.frets", 6);
        var fingers = Requests.ToFingers(side?.Fingers, $"{field}.fingers", 6);
        if (fingers is null)
        {
            var found = finder.Find(shape, 6);
            return found.Count > 0
                ? [.. found]
                : throw new ApiProblem($"{field}.frets", "No hand of this size can do this shape.");
        }
        return finder.Weigh(shape, fingers) is { } weighed
            ? [weighed]
            : throw new ApiProblem($"{field}.fingers",
                "These fingers cannot stop this shape: each stopped string needs a finger, in order "
                    + "along the neck and within reach.");
    }

    private static int[] Numbers(IReadOnlyList<Core.Hands.Finger> fingers) => [.. fingers.Select(f => (int)f)];

    private static AnswerSide Describe(Fingering f) =>
        new(Requests.FromShape(f.Shape), Numbers(f.Fingers), Math.Round(f.Load.Value, 2));
}
