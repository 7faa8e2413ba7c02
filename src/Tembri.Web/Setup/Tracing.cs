using System.Diagnostics;
using Npgsql;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;

namespace Tembri.Web.Setup;

/// <summary>Traces of requests, queries and ladders, by OpenTelemetry; section <c>Traces</c>, off while <c>Endpoint</c> is
/// empty.</summary>
internal static class Tracing
{
    /// <summary>Where spans of our own begin.</summary>
    public static readonly ActivitySource Source = new("Tembri");

    /// <summary>Sends traces to a collector (OTLP: over gRPC, or over HTTP when the endpoint has a path, as
    /// <c>http://127.0.0.1:4318/v1/traces</c>). Routes stand in them, never paths: a student's link is a secret; nor the text of
    /// queries or who asked.</summary>
    public static void AddTraces(this IServiceCollection services, IConfiguration configuration)
    {
        if (configuration["Traces:Endpoint"] is not { Length: > 0 } endpoint) return;
        services.AddOpenTelemetry()
            .ConfigureResource(resource => resource.AddService("tembri", serviceInstanceId: Environment.MachineName))
            .WithTracing(traces => traces
                .AddSource(Source.Name)
                .SetSampler(new ParentBasedSampler(
                    new TraceIdRatioBasedSampler(Math.Clamp(configuration.GetValue("Traces:Share", 1.0), 0, 1))))
                .AddAspNetCoreInstrumentation(options =>
                {
                    options.Filter = context => !context.Request.Path.StartsWithSegments("/health")
                        && !context.Request.Path.StartsWithSegments("/assets");
                    options.EnrichWithHttpRequest = (span, _) => Conceal(span);
                    options.EnrichWithHttpResponse = (span, _) => Conceal(span);
                    options.RecordException = false;
                })
                .AddNpgsql()
                .AddProcessor(new PlainProcessor())
                .AddOtlpExporter(exporter =>
                {
                    exporter.Endpoint = new Uri(endpoint);
                    // A whole path is the way over HTTP; without one it is gRPC.
                    if (exporter.Endpoint.AbsolutePath.Length > 1)
                        exporter.Protocol = OpenTelemetry.Exporter.OtlpExportProtocol.HttpProtobuf;
                }));
    }

    /// <summary>Takes out of a request's span what may hold a secret or say who asked.</summary>
    private static void Conceal(Activity span)
    {
        foreach (var tag in (string[])["url.path", "url.query", "url.full", "client.address", "network.peer.address",
            "network.peer.port", "user_agent.original"])
            span.SetTag(tag, null);
    }

    /// <summary>The last look before a span leaves: queries keep their length and kind, not their words.</summary>
    private sealed class PlainProcessor : OpenTelemetry.BaseProcessor<Activity>
    {
        public override void OnEnd(Activity data)
        {
            foreach (var tag in (string[])["db.query.text", "db.statement", "db.user", "db.connection_string",
                "exception.message"])
                data.SetTag(tag, null);
            if (data.Kind == ActivityKind.Server) Conceal(data);
        }
    }
}
