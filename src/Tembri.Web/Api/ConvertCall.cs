using Tembri.Core;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Formats;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/convert</c>: a chart, or one rung's version of it, in another format.</summary>
internal static class ConvertCall
{
    public sealed record Request(string? Chart, string? From, string? To, int? Rung);

    public static IResult Handle(Request request, WorkLimits work)
    {
        var format = ChartFormats.ToFormat(request.To, "to");
        if (request.Rung is < 1 or > 5) throw new ApiProblem("rung", $"Rung {request.Rung} does not exist; use 1 to 5, or leave it out for the record's chart.");
        var chart = ChartFormats.Read(request.Chart, request.From, "from", work.Cancel).Chart;
        // A MIDI file needs shapes: the record's own are those of the top rung where the record has its capo.
        if (request.Rung is null && format != ChartFormat.Midi) return File(ChartFiles.Write(chart, format));
        if (LadderBuilder.Objection(chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
        var ladder = LadderBuilder.Build(new LadderRequest { Chart = chart, Player = new Player(), Capo = request.Rung is null ? chart.RecordCapo : null }, work);
        var rung = ladder.Rungs[(request.Rung ?? ladder.Rungs.Count) - 1];
        return rung.IsFeasible ? File(ChartFiles.Write(new VersionChart(ladder, rung), format)) : throw new ApiProblem("rung", $"Rung {rung.Limits.Number} cannot be played: {rung.BlockedBy}");
    }

    private static IResult File(WrittenChart written) => Results.Bytes(written.Bytes, written.MediaType);
}
