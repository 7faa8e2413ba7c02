namespace Tembri.Web.Api;

/// <summary>A fault in a request's body: which field, at which position, and what to do.</summary>
public sealed class ApiProblem(string field, string detail) : Exception(detail)
{
    /// <summary>The field in JSON notation, such as <c>shapes[3][2]</c>.</summary>
    public string Field { get; } = field;
}
