namespace Tembri.Core.Checking;

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
        if (start > text.Length || start + Length > text.Length) throw new ArgumentException($"Line {Line} has no column {Column}.", nameof(text));
        return string.Concat(text.AsSpan(0, start), Text, text.AsSpan(start + Length));
    }
}

/// <summary>A way to settle a doubt.</summary>
/// <param name="Words">What it does, such as "write A".</param>
/// <param name="Edits">Changes of the text, those further down first.</param>
public sealed record Mend(string Words, IReadOnlyList<TextEdit> Edits);

/// <summary>Something in a chart that may be wrong although it can be read.</summary>
/// <param name="Id">Names the doubt for as long as its reason stands; a chart that says <c>{kept: id}</c> has answered it.</param>
/// <param name="Line">Line of the text, from 1.</param>
/// <param name="Column">Column, from 1.</param>
/// <param name="Message">What is odd, and why.</param>
/// <param name="Mends">Ways to settle it, the likeliest first; may be empty.</param>
public sealed record Doubt(string Id, int Line, int Column, string Message, IReadOnlyList<Mend> Mends);
