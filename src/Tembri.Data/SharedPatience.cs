using System.Diagnostics;

namespace Tembri.Data;

/// <summary>How long somebody has waited for the database, all commands of one request together: each has its time and its
/// tries, and nobody waits for those of all of them.</summary>
public static class SharedPatience
{
    /// <summary>How long a request may wait for its commands where each has a short time of its own: an installation that
    /// promises an answer within 10 s.</summary>
    public static readonly TimeSpan OfRequest = TimeSpan.FromSeconds(7.5);

    private sealed class Waited
    {
        public readonly long Began = Stopwatch.GetTimestamp();
        public long Ticks;
    }

    private static readonly AsyncLocal<Waited?> Request = new();

    /// <summary>A request begins: what runs in it from here on shares its patience.</summary>
    public static void Begin() => Request.Value = new Waited();

    /// <summary>What is left of a request's time; null where there is no request.</summary>
    public static TimeSpan? Left => Request.Value is { } request ? OfRequest - Stopwatch.GetElapsedTime(request.Began) : null;

    /// <summary>Adds what a command waited that failed.</summary>
    /// <param name="time">Since it began, or since it failed before.</param>
    /// <param name="alone">All that this command waited, which counts where there is no request.</param>
    /// <returns>What was waited in all.</returns>
    public static TimeSpan Spend(TimeSpan time, TimeSpan alone) =>
        Request.Value is { } waited ? new TimeSpan(Interlocked.Add(ref waited.Ticks, time.Ticks)) : alone;
}
