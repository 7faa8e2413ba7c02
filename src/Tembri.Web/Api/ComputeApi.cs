using Tembri.Core;
using Tembri.Web.Computing;

namespace Tembri.Web.Api;

/// <summary>The compute calls: they hold no data and need no account.</summary>
internal static class ComputeApi
{
    public const string RateLimit = "api";

    public static void MapComputeApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1").RequireRateLimiting(RateLimit).DisableAntiforgery().AllowAnonymous().WithTags("compute")
            .ProducesProblem(400).ProducesProblem(413).ProducesProblem(415).ProducesProblem(429).ProducesProblem(500).ProducesProblem(503);
        Map<ChordsCall.Request, ChordsCall.Answer>(api, "/chords", ChordsCall.Handle, "Reads chord symbols.");
        Map<FingeringsCall.Request, FingeringsCall.Answer>(api, "/fingerings", FingeringsCall.Handle, "Finds the fingerings of shapes, lightest first.");
        Map<ShapesCall.Request, ShapesCall.Answer>(api, "/shapes", ShapesCall.Handle, "Finds the teachable shapes of a sounding chord.");
        Map<ChangesCall.Request, ChangesCall.Answer>(api, "/changes", ChangesCall.Handle, "Says what the fingers do between two shapes.");
        Map<LadderCall.Request, LadderCall.Answer>(api, "/ladder", LadderCall.Handle, "Arranges a chart in five versions for one student.");
        api.MapPost("/convert", (ConvertCall.Request request, ComputeLanes lanes, CancellationToken leaving) => lanes.ForApiAsync(work => ConvertCall.Handle(request, work), leaving))
            .WithSummary("Writes a chart, or one rung of it, in another format.");
    }

    /// <summary>A call that computes in the lane of the API: with a deadline, and no longer than the caller waits.</summary>
    private static void Map<TRequest, TAnswer>(IEndpointRouteBuilder api, string path, Func<TRequest, WorkLimits, TAnswer> handle, string summary) where TRequest : class =>
        api.MapPost(path, (TRequest request, ComputeLanes lanes, CancellationToken leaving) => lanes.ForApiAsync(work => handle(request, work), leaving)).WithSummary(summary);
}
