namespace Tembri.Core.Charts;

/// <summary>A section played a number of times.</summary>
/// <param name="Section">Name of the section.</param>
/// <param name="Times">1 or more.</param>
public readonly record struct FormPart(string Section, int Times);
