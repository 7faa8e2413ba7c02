using Tembri.Core;
using Tembri.Core.Ladders;
using Tembri.Web.Computing;
using Tembri.Web.Recordings;
using Tembri.Web.Ladders;

namespace Tembri.Web.Api;

/// <summary>The compute calls: they hold no data and need no account.</summary>
internal static class ComputeApi
{
    public const string RateLimit = "api";

    public static void MapComputeApi(this IEndpointRouteBuilder routes)
    {
        var api =
            routes.MapGroup("/api/v1").RequireRateLimiting(RateLimit).DisableAntiforgery().AllowAnonymous().WithTags("compute")
            .ProducesProblem(400).ProducesProblem(413).ProducesProblem(415).ProducesProblem(429).ProducesProblem(500)
            .ProducesProblem(503);
        Map<ChordsCall.Request, ChordsCall.Answer>(api, "/chords", (request, work, _) => ChordsCall.Handle(request, work),
            "Reads chord symbols.");
        Map<FingeringsCall.Request, FingeringsCall.Answer>(api, "/fingerings",
            (request, work, _) => FingeringsCall.Handle(request, work), "Finds the fingerings of shapes, lightest first.");
        Map<ShapesCall.Request, ShapesCall.Answer>(api, "/shapes",
            (request, _, known) => ShapesCall.Handle(request, known.Results), "Finds the teachable shapes of a sounding chord.");
        Map<ChangesCall.Request, ChangesCall.Answer>(api, "/changes", (request, work, _) => ChangesCall.Handle(request, work),
            "Says what the fingers do between two shapes.");
        Map<LadderCall.Request, LadderCall.Answer>(api, "/ladder",
            (request, work, known) => LadderCall.Handle(request, work, known.Ladders),
            "Arranges a chart in five versions for one student.");
        Map<StrumsCall.Request, StrumsCall.Answer>(api, "/strums",
            (request, _, known) => StrumsCall.Handle(request, known.Results),
            "Weighs a pattern of the right hand and reduces it to five rungs.");
        Map<FiguresCall.Request, FiguresCall.Answer>(api, "/figures", (request, _, _) => FiguresCall.Handle(request),
            "Finds the easiest way of a riff or run over the neck.");
        Map<SkillsCall.Request, SkillsCall.Answer>(api, "/skills", (request, work, _) => SkillsCall.Handle(request, work),
            "Replays a log of practice and says what it tells of the skills.");
        Map<ClassCall.Request, ClassCall.Answer>(api, "/class",
            (request, work, known) => ClassCall.Handle(request, work, new LadderBuilder(known.Results)),
            "Finds one key and tempo for several students, with a capo and a rung for each.");
        Map<RoadCall.Request, RoadCall.Answer>(api, "/road",
            (request, work, known) => RoadCall.Handle(request, work, known.Ladders),
            "Finds which songs come next, or lead to a goal.");
        api.MapPost("/hearing",
            (HttpRequest request, Uploads uploads, ComputeLanes lanes, CancellationToken leaving) =>
                HearingCall.HandleAsync(request, uploads, lanes, leaving))
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(Uploads.LargestRequest))
            .WithSummary("Listens to a recording: tuning, key, tempo, where each bar lies, which chords of a chart it does not "
                + "have; a first chart without one.")
            .Accepts<IFormFile>("multipart/form-data");
        Map<ConvertCall.Request, IResult>(api, "/convert",
            (request, work, known) => ConvertCall.Handle(request, work, known.Ladders),
            "Writes a chart, or one rung of it, in another format.");
    }

    /// <summary>What is known from earlier calls.</summary>
    private readonly record struct Known(ResultCache Results, LadderShelf Ladders);

    /// <summary>A call that computes in the lane of the API: with a deadline, and no longer than the caller waits.</summary>
    private static void Map<TRequest,
        TAnswer>(IEndpointRouteBuilder api, string path, Func<TRequest, WorkLimits, Known, TAnswer> handle,
            string summary) where TRequest : class =>
        api.MapPost(path,
            (TRequest request, ComputeLanes lanes, ResultCache results, LadderShelf ladders, CancellationToken leaving) =>
            lanes.ForApiAsync(work => handle(request, work, new Known(results, ladders)), leaving)).WithSummary(summary);
}
