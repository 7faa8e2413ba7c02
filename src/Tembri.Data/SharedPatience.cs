namespace Tembri.Data;

/// <summary>How long somebody has waited for a database that was away, all commands of one request together: each has its tries,
/// and nobody waits for the tries of all of them.</summary>
public static class SharedPatience
{
    private sealed class Waited
    {
        public long Ticks;
    }

    private static readonly AsyncLocal<Waited?> Request = new();

    /// <summary>A request begins: what runs in it from here on shares its patience.</summary>
    public static void Begin() => Request.Value = new Waited();

    /// <summary>Adds what a command waited that failed.</summary>
    /// <param name="time">Since it began, or since it failed before.</param>
    /// <param name="alone">All that this command waited, which counts where there is no request.</param>
    /// <returns>What was waited in all.</returns>
    public static TimeSpan Spend(TimeSpan time, TimeSpan alone) =>
        Request.Value is { } waited ? new TimeSpan(Interlocked.Add(ref waited.Ticks, time.Ticks)) : alone;
}
