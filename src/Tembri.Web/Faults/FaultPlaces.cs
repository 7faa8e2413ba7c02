using System.Diagnostics;
using Serilog.Core;
using Serilog.Events;

namespace Tembri.Web.Faults;

/// <summary>Adds to a line of the log that comes with a fault what kind it is and where in Tembri it arose, and nothing that it
/// says: a message may hold what somebody typed. The framework's own lines, such as that a background service failed, name
/// neither.</summary>
internal sealed class FaultPlaces : ILogEventEnricher
{
    /// <summary>The name of what is added, for the line's template.</summary>
    public const string Property = "Arose";

    public void Enrich(LogEvent logEvent, ILogEventPropertyFactory propertyFactory)
    {
        if (logEvent.Exception is { } fault)
            logEvent.AddPropertyIfAbsent(propertyFactory.CreateProperty(Property, $" ({Said(fault)})"));
    }

    /// <summary>The kinds of a fault from the outermost in, and the method of Tembri in which the innermost arose.</summary>
    /// <param name="fault">The fault.</param>
    public static string Said(Exception fault)
    {
        var (kinds, innermost) = (new List<string>(), fault);
        for (var e = fault; e is not null && kinds.Count < MostKinds; e = e.InnerException)
        {
            kinds.Add(e.GetType().Name);
            innermost = e;
        }
        var place = new StackTrace(innermost).GetFrames().Select(f => f.GetMethod())
            .FirstOrDefault(m => m?.DeclaringType?.Namespace?.StartsWith(nameof(Tembri), StringComparison.Ordinal) == true);
        return string.Join(" < ", kinds) + (place is null ? "" : $" in {NameOf(place.DeclaringType!, place.Name)}");
    }

    private const int MostKinds = 4;

    /// <summary>A method as it is written: what the compiler makes of one that waits lies in a type of its own, called
    /// &lt;OpenAsync&gt;d__3.</summary>
    private static string NameOf(Type type, string method) =>
        type.Name is ['<', ..] && type.DeclaringType is { } written
            ? NameOf(written, type.Name.IndexOf('>') is > 1 and var end ? type.Name[1..end] : method)
            : $"{type.Name}.{method}";
}
