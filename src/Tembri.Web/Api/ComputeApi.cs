namespace Tembri.Web.Api;

/// <summary>The compute calls: they hold no data and need no account.</summary>
internal static class ComputeApi
{
    public const string RateLimit = "api";

    public static void MapComputeApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1").RequireRateLimiting(RateLimit).DisableAntiforgery().WithTags("compute").ProducesProblem(400);
        api.MapPost("/chords", ChordsCall.Handle).WithSummary("Reads chord symbols.");
        api.MapPost("/fingerings", FingeringsCall.Handle).WithSummary("Finds the fingerings of shapes, lightest first.");
        api.MapPost("/shapes", ShapesCall.Handle).WithSummary("Finds the teachable shapes of a sounding chord.");
        api.MapPost("/changes", ChangesCall.Handle).WithSummary("Says what the fingers do between two shapes.");
        api.MapPost("/convert", ConvertCall.Handle).WithSummary("Writes a chart, or one rung of it, in another format.");
        api.MapPost("/ladder", LadderCall.Handle).WithSummary("Arranges a chart in five versions for one student.");
    }
}
