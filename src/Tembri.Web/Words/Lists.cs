namespace Tembri.Web.Words;

/// <summary>Lists in words.</summary>
internal static class Lists
{
    /// <summary>Such as <c>E, G and B</c>.</summary>
    public static string And(IEnumerable<string> words)
    {
        var list = words.ToList();
        return list.Count switch { 0 => "", 1 => list[0], _ => string.Join(", ", list.SkipLast(1)) + " and " + list[^1] };
    }
}
