namespace Tembri.Core.Charts;

/// <summary>Gathers what needs the teacher's eye while a chart is read; beyond <see cref="ChartLimits.MostProblems"/> it only
/// counts.</summary>
public sealed class ProblemList
{
    private readonly List<ChartProblem> _problems = [];
    private int _more;

    /// <summary>Adds a problem.</summary>
    /// <param name="line">Line, from 1.</param>
    /// <param name="column">Column, from 1.</param>
    /// <param name="message">What is wrong and what to do.</param>
    public void Add(int line, int column, string message)
    {
        if (_problems.Count < ChartLimits.MostProblems) _problems.Add(new(line, column, message));
        else _more++;
    }

    /// <summary>The problems in order of line and column, the count of those not listed last.</summary>
    public IReadOnlyList<ChartProblem> ToList()
    {
        var inOrder = _problems.OrderBy(p => p.Line).ThenBy(p => p.Column).ToList();
        if (_more > 0)
            inOrder.Add(new(inOrder[^1].Line, 1,
                $"There are {_more:N0} more places like these; mend the first ones, then the others are listed."));
        return inOrder;
    }
}
