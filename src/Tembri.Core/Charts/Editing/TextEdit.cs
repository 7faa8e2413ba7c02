namespace Tembri.Core.Charts.Editing;

/// <summary>A change of a chart's text.</summary>
/// <param name="Line">Line, from 1; one more than there are lines adds a line.</param>
/// <param name="Column">Column, from 1.</param>
/// <param name="Length">Characters that go.</param>
/// <param name="Text">What comes in their place.</param>
public readonly record struct TextEdit(int Line, int Column, int Length, string Text)
{
    /// <summary>The text with the change made.</summary>
    /// <exception cref="ArgumentException">The place is not in the text.</exception>
    public string Apply(string text)
    {
        var start = 0;
        for (var line = 1; line < Line; line++)
        {
            var end = text.IndexOf('\n', start);
            if (end < 0) throw new ArgumentException($"The text has no line {Line}.", nameof(text));
            start = end + 1;
        }
        start += Column - 1;
        if (start > text.Length || start + Length > text.Length)
            throw new ArgumentException($"Line {Line} has no column {Column}.", nameof(text));
        return string.Concat(text.AsSpan(0, start), Text, text.AsSpan(start + Length));
    }
}
