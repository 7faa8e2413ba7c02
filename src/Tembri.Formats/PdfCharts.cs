using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Content;

namespace Tembri.Formats;

/// <summary>Charts in a PDF whose text is text: where words and chords stand on the page is read, columns one after another, and
/// each chord is put above the letter it stands over.</summary>
/// <remarks>A page that begins with letters clearly larger than the rest begins another song. A scanned page has no text and
/// cannot be read.</remarks>
public static partial class PdfCharts
{
    private const int MostPages = 400;
    private const double SameLine = 0.45;      // of a letter's height
    private const double Margin = 0.075;       // of a page's height, where no song is printed
    private const double WordGap = 0.15;       // of a letter's size, where no space is written
    private const double WideGap = 1.1;
    private const double TitleSize = 1.25;     // of the usual size
    private const double LeastGutter = 14;     // points
    private const int LeastLinesBeside = 4;

    /// <summary>True for a file that is a PDF.</summary>
    public static bool IsPdf(ReadOnlySpan<byte> data) => data.StartsWith("%PDF"u8);

    /// <summary>The songs of a file as texts, with chords on lines above the words.</summary>
    /// <param name="data">The file.</param>
    /// <param name="cancel">Ends the reading.</param>
    /// <exception cref="FormatException">It cannot be read, or holds no text; the message says what to do.</exception>
    public static IReadOnlyList<string> Read(byte[] data, CancellationToken cancel = default)
    {
        try
        {
            using var document = PdfDocument.Open(data, new ParsingOptions { UseLenientParsing = true });
            if (document.NumberOfPages > MostPages)
                throw new FormatException($"This PDF has {document.NumberOfPages} pages; {MostPages} are the most.");
            var songs = new List<StringBuilder>();
            foreach (var letters in WithoutEdges(Pages(document, cancel)))
            {
                var usual = UsualSize(letters);
                var columns = Columns(letters).Select(LinesOf).ToList();
                var first = columns[0][0];
                var begins = first.Size >= TitleSize * usual && !first.Words.All(w => IsChord(w.Text));
                if (songs.Count == 0 || begins) songs.Add(new StringBuilder(begins ? $"title: {Title(first.Text)}\n" : ""));
                foreach (var (column, number) in columns.Select((c, i) => (c, i)))
                    Write(songs[^1], number == 0 && begins ? column[1..] : column);
            }
            if (songs.Count == 0)
                throw new FormatException(
                    "This PDF holds no text: it is a picture of a chart. Type the chart, or bring the file it was made from.");
            return [.. songs.Select(s => s.ToString())];
        }
        catch (Exception e) when (e is not (FormatException or OperationCanceledException))
        {
            throw new FormatException(
                "This PDF cannot be read; it is damaged or locked. Print it to a new PDF, or paste its text.");
        }
    }

    private static double UsualSize(List<Letter> letters) =>
        letters.GroupBy(l => Math.Round(l.PointSize, 1)).MaxBy(g => g.Count())!.Key;

    private static List<(List<Letter> Letters, double Height)> Pages(PdfDocument document, CancellationToken cancel)
    {
        var pages = new List<(List<Letter> Letters, double Height)>();
        foreach (var page in document.GetPages())
        {
            cancel.ThrowIfCancellationRequested();
            pages.Add(([.. page.Letters.Where(l => l.Value.Length > 0 && l.PointSize > 0)], page.Height));
        }
        return pages;
    }

    /// <summary>Pages that have letters, without their numbers and what stands in the margin at the bottom of several, or once
    /// more at the top.</summary>
    private static IEnumerable<List<Letter>> WithoutEdges(List<(List<Letter> Letters, double Height)> pages)
    {
        var edges = pages.Select(p => Rows(p.Letters) is [var first, .., var last]
            ? new[] { first, last }.Where(r => Math.Abs(r[0].StartBaseLine.Y / p.Height - 0.5) > 0.5 - Margin
                && r.Max(l => l.PointSize) < TitleSize * UsualSize(p.Letters)).ToList()
            : []).ToList();
        static string Text(List<Letter> row) =>
            string.Concat(row.OrderBy(l => l.StartBaseLine.X).Select(l => l.Value)).Trim();
        static string Mark(List<Letter> row) =>
            $"{row[0].StartBaseLine.Y:0} {string.Concat(Text(row).Where(c => !char.IsAsciiDigit(c)))}";
        var often = edges.SelectMany(e => e.Select(Mark)).GroupBy(m => m).Where(g => g.Count() > 1).Select(g => g.Key)
            .ToHashSet();
        var tops = new HashSet<string>();
        for (var i = 0; i < pages.Count; i++)
        {
            var (letters, height) = pages[i];
            var left = letters.ToHashSet();
            foreach (var row in edges[i])
            {
                var isTop = row[0].StartBaseLine.Y > height / 2;
                var isNumber = PageNumber().Match(Text(row)) is { Success: true } match
                    && match.Groups["number"].Value == $"{i + 1}";
                if (isNumber || often.Contains(Mark(row)) && !(isTop && tops.Add(Mark(row)))) left.ExceptWith(row);
            }
            if (left.Count > 0) yield return [.. letters.Where(left.Contains)];
        }
    }

    /// <summary>A number alone, or behind the word for a page and whatever else the margin says.</summary>
    [GeneratedRegex(@"^(?:-|–|[^0-9]{0,100}(?:page|seite|p\.))?\s?(?<number>[0-9]{1,3})\s?(?:(?:/|of|von)\s?[0-9]{1,3}|-|–)?$",
        RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex PageNumber();

    /// <summary>A title without what marks it as one in plain text.</summary>
    private static string Title(string text)
    {
        text = text.Trim('#', '=', '*', '>', '"', '{', '}', ' ');
        return text.StartsWith("title:", StringComparison.OrdinalIgnoreCase) ? text[6..].Trim() : text;
    }

    private sealed record Word(string Text, double X, double End, IReadOnlyList<double> At);

    private sealed record Line(double Y, double Size, List<Word> Words)
    {
        public string Text => string.Join(' ', Words.Select(w => w.Text));

        /// <summary>True where words stand further apart than in a sentence.</summary>
        public bool IsWide => Words.Zip(Words.Skip(1)).Any(p => p.Second.X - p.First.End > WideGap * Size);
    }

    /// <summary>The letters of a page in columns, when a gutter parts it from top to bottom.</summary>
    private static List<List<Letter>> Columns(List<Letter> letters)
    {
        var (left, right) = (letters.Min(l => l.BoundingBox.Left), letters.Max(l => l.BoundingBox.Right));
        // A title may go across; a gutter is looked for below it.
        var usual = UsualSize(letters);
        var body = letters.Where(l => l.PointSize < TitleSize * usual).ToList();
        for (var x = left + 0.35 * (right - left); x <= left + 0.65 * (right - left); x += 3)
        {
            var (from, to) = (x - LeastGutter / 2, x + LeastGutter / 2);
            if (body.Any(l => l.BoundingBox.Right > from && l.BoundingBox.Left < to)) continue;
            // Lines of two columns stand beside each other, or each column goes down in steps of its own.
            var rows = body.ToLookup(l => l.BoundingBox.Left > x, l => Math.Round(l.StartBaseLine.Y / 3));
            var (before, behind) = (rows[false].ToHashSet(), rows[true].ToHashSet());
            var beside = behind.Count(before.Contains);
            var areApart = beside <= behind.Count / 2 && Math.Min(before.Count, behind.Count) >= LeastLinesBeside;
            if (beside < LeastLinesBeside && !areApart) continue;
            var across = letters.Except(body).ToList();
            return [[.. across, .. body.Where(l => l.BoundingBox.Left < x)], [.. body.Where(l => l.BoundingBox.Left >= x)]];
        }
        return [letters];
    }

    private static List<Line> LinesOf(List<Letter> letters)
    {
        var lines = new List<Line>();
        foreach (var row in Rows(letters))
        {
            var words = new List<Word>();
            var (text, at) = (new StringBuilder(), new List<double>());
            var end = double.NegativeInfinity;
            void End()
            {
                if (text.Length > 0) words.Add(new Word(text.ToString(), at[0], end, [.. at]));
                text.Clear();
                at.Clear();
            }
            // By the room each letter takes, not by its ink: an i is narrow, and in some fonts stands alone in much of it.
            foreach (var letter in row.OrderBy(l => l.StartBaseLine.X))
            {
                if (letter.Value.Trim().Length == 0) { End(); continue; }
                if (letter.StartBaseLine.X - end > WordGap * letter.PointSize) End();
                text.Append(letter.Value);
                for (var i = 0; i < letter.Value.Length; i++) at.Add(letter.StartBaseLine.X);
                end = letter.EndBaseLine.X;
            }
            End();
            if (words.Count > 0) lines.Add(new Line(row[0].StartBaseLine.Y, row.Max(l => l.PointSize), words));
        }
        return lines;
    }

    private static List<List<Letter>> Rows(List<Letter> letters)
    {
        var rows = new List<List<Letter>>();
        foreach (var letter in letters.OrderByDescending(l => l.StartBaseLine.Y))
        {
            // A raised part of a chord belongs to the line it is raised from.
            if (rows.Count > 0
                && rows[^1][0].StartBaseLine.Y - letter.StartBaseLine.Y
                    < SameLine * Math.Max(letter.PointSize, rows[^1][0].PointSize))
                rows[^1].Add(letter);
            else rows.Add([letter]);
        }
        return rows;
    }

    private static bool IsChord(string word) =>
        word is "|" or "N.C." or "NC" || ChordReader.Read(word.Trim('|', '(', ')')).Chord is not null;

    private static void Write(StringBuilder song, List<Line> lines)
    {
        var isBelow = false;   // whether what stands above this line was put over its letters
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i];
            var isAbove = !isBelow && i + 1 < lines.Count && IsAbove(line, lines[i + 1]);
            if (isAbove) song.Append(Above(line, lines[i + 1])).Append('\n');
            else
            {
                if (i > 0 && lines[i - 1].Y - line.Y > 2.4 * line.Size) song.Append('\n');
                song.Append(line.Text).Append('\n');
            }
            isBelow = isAbove;
        }
    }

    /// <summary>Whether a line belongs over the letters of the next: chords over words, and in whichever language chords are
    /// named, whatever stands far apart over what does not.</summary>
    private static bool IsAbove(Line line, Line next) =>
        line.Y - next.Y < 2.4 * Math.Max(line.Size, next.Size) && !next.Words.All(w => IsChord(w.Text))
        && (line.Words.All(w => IsChord(w.Text)) || line.IsWide && !next.IsWide);

    /// <summary>Chords at the letters of the next line over which they stand.</summary>
    private static string Above(Line chords, Line words)
    {
        var places = new List<double>();
        for (var w = 0; w < words.Words.Count; w++)
        {
            if (w > 0) places.Add(words.Words[w].X - 0.01);
            places.AddRange(words.Words[w].At);
        }
        var text = new StringBuilder();
        foreach (var chord in chords.Words)
        {
            // The letter under the chord's beginning; behind the last word the line goes on in letters of usual width.
            var column = places.FindLastIndex(x => x <= chord.X + 0.25 * chords.Size);
            if (column == places.Count - 1 && places.Count > 0 && chord.X > places[^1] + chords.Size)
                column = places.Count + (int)((chord.X - places[^1]) / (0.55 * chords.Size));
            while (text.Length < Math.Max(0, column)) text.Append(' ');
            if (text.Length > 0 && text[^1] != ' ') text.Append(' ');
            text.Append(chord.Text);
        }
        return text.ToString();
    }
}
