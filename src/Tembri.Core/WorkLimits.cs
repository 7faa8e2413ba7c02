namespace Tembri.Core;

/// <summary>How long a computation may go on and on how many threads.</summary>
/// <param name="Cancel">Ends the work soon after it is cancelled: the caller left, or its time is over.</param>
/// <param name="MostThreads">Threads it may use at once, 0 for as many as there are cores.</param>
public readonly record struct WorkLimits(CancellationToken Cancel = default, int MostThreads = 0)
{
    /// <summary>For a loop that runs in parallel.</summary>
    internal ParallelOptions Parallel =>
        new()
        {
            CancellationToken = Cancel, MaxDegreeOfParallelism = MostThreads > 0 ? MostThreads : Environment.ProcessorCount
        };
}
