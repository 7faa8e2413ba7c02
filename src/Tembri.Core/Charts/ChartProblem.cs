namespace Tembri.Core.Charts;

/// <summary>Something in a chart that needs the teacher's eye.</summary>
/// <param name="Line">Line, from 1.</param>
/// <param name="Column">Column, from 1.</param>
/// <param name="Message">What is wrong and what to do.</param>
public sealed record ChartProblem(int Line, int Column, string Message);
