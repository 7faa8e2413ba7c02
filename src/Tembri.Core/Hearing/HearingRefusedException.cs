namespace Tembri.Core.Hearing;

/// <summary>A recording, or the chart it is to be held against, cannot be worked on; the message says what to do.</summary>
/// <param name="message">What to do.</param>
/// <param name="isOfChart">True when the chart is the reason.</param>
public sealed class HearingRefusedException(string message, bool isOfChart = false) : Exception(message)
{
    /// <summary>True when the chart is the reason, false when the recording is.</summary>
    public bool IsOfChart { get; } = isOfChart;
}
