using Tembri.Core.Charts.Reading;
using System.Text;
using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Editing;

/// <summary>Moves a chart's text to another key: every chord and every note of the tune is written anew where it stands, all
/// else stays as it was.</summary>
public static partial class ChartTextMover
{
    [GeneratedRegex(@"^(\s*\{?\s*melody\s*:\s*)([^}]*?)(\s*\}?\s*)$", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex MelodyHeader();

    [GeneratedRegex(@"(?<pitch>[A-G](?:#|b|♯|♭)?-?[0-9])(?<after>[\s|]|$)")]
    private static partial Regex Pitches();

    /// <summary>The text in another key, spelt as that key asks. Accidentals are written as the text writes them.</summary>
    /// <param name="text">Chart text.</param>
    /// <param name="to">The key that is to sound.</param>
    /// <param name="names">Which names notes are to have; the key's own when it is not said.</param>
    public static string Move(string text, Key to, NoteNames names = NoteNames.AsKey)
    {
        var plain = text.Replace("\r\n", "\n", StringComparison.Ordinal);
        var reading = ChartReader.Read(plain);
        var chart = reading.Chart;
        var fifths = chart.Key.FifthsTo(to);
        var semitones = (to.Tonic.PitchClass - chart.Key.Tonic.PitchClass + 17) % 12 - 5;
        if (fifths == 0 && semitones == 0) return plain;
        var signs = plain.Contains('♭') || plain.Contains('♯');
        string Sign(string written) => signs ? written : written.Replace('♯', '#').Replace('♭', 'b');
        string Pitched(string name) =>
            Pitch.TryParse(name, out var pitch) ? Sign(pitch.Move(fifths, semitones).ToString()) : name;
        var lines = plain.Split('\n');
        var hasKey = false;
        var slots = chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots).Concat(reading.Listed)
            .Where(s => s is { Line: > 0, Length: > 0 })
            .DistinctBy(s => (s.Line, s.Column)).ToLookup(s => s.Line);
        // Above words or strokes each chord has its place.
        bool IsAbove(int line)
        {
            // A page may have blank lines in between.
            var below = line + 1 < lines.Length && string.IsNullOrWhiteSpace(lines[line + 1]) ? line + 2 : line + 1;
            return below < lines.Length && !slots.Contains(below + 1)
                && (StrokesOnly().IsMatch(lines[below]) || ChartTextRun.AreCounted(LineTidy.Of(lines[below]))
                    || ChartTextRun.IsLyricLine(lines[below], reading.Naming));
        }
        // A key line of its own is the one that counts.
        var isKeyInTitle = chart.Title.Length > 0 && !Array.Exists(lines, l => ChartHeader.KeyIn(LineTidy.Of(l)) is not null);
        for (var i = 0; i < lines.Length; i++)
        {
            var isSpoken = slots.Contains(i + 1) && SpokenChords.MayBeIn(lines[i]);   // A minor, F major
            var line = LineTidy.Of(lines[i]);
            var inTitle = isKeyInTitle && line.Contains(chart.Title, StringComparison.Ordinal)
                ? ChartHeader.KeyInTitle(line)
                : null;
            if (ChartTextRun.KeyBehindIn(line) is var (behind, named))
            {
                lines[i] = $"{lines[i][..behind]}{Sign(to.Named(names).ToString())}{lines[i][(behind + named)..]}";
                hasKey = true;
            }
            else if (!isSpoken && (ChartHeader.KeyIn(line) ?? inTitle) is var (at, length))
            {
                // "C major" alone would be read as a chord when it became "D".
                var isNamed = lines[i].Contains("key", StringComparison.OrdinalIgnoreCase)
                    || lines[i].Contains("play", StringComparison.OrdinalIgnoreCase)
                    || lines[i][..at].TrimEnd().EndsWith(':') || ChartHeader.AreBareFacts(line);
                var key = to.Named(names);
                // Waltz in A minor stays a title.
                var says = inTitle is not null
                    ? $"{Sign(key.Tonic.ToString())} {(key.IsMinor ? "minor" : "major")}"
                    : $"{(isNamed ? "" : "key: ")}{Sign(key.ToString())}";
                lines[i] = lines[i][..at] + says + lines[i][(at + length)..];
                hasKey = true;
            }
            else if (MelodyHeader().Match(lines[i]) is { Success: true } melody
                && PitchRange.TryParse(melody.Groups[2].Value, out var range))
                lines[i] =
                    $"{melody.Groups[1].Value}{Sign(range.Low.Move(fifths, semitones).ToString())} to "
                        + $"{Sign(range.High.Move(fifths, semitones).ToString())}{melody.Groups[3].Value}";
            else if (lines[i].TrimStart().StartsWith(MelodyLine.Mark))
                lines[i] = Pitches().Replace(lines[i], m => Pitched(m.Groups["pitch"].Value) + m.Groups["after"].Value);
            else if (FigureText.IsFigure(lines[i]))
                lines[i] = MovedFigure(lines[i], chart, p => Sign(p.Move(fifths, semitones).ToString()));
            else if (slots.Contains(i + 1))
            {
                var isAbove = IsAbove(i);
                lines[i] = Rewrite(lines[i], slots[i + 1], fifths, names, Sign, reading.Naming, to, isAbove,
                    isAbove && slots[i + 1].Any(s => s.Lyric.Length > 0) ? GoingAlong(lines, i, reading.Naming) : null);
            }
        }
        var moved = (hasKey ? "" : $"key: {Sign(to.Named(names).ToString())}\n") + string.Join('\n', lines);
        // In another key nothing may show by which names chords are called.
        var isShown = reading.NamesAreSaid || reading.Naming is { Names: ChartNames.English, SmallIsMinor: false }
            || ChartReader.Read(moved).Naming is var now && now.Names == reading.Naming.Names
                && now.SmallIsMinor == reading.Naming.SmallIsMinor;
        return isShown ? moved : $"{ForeignNames.Said(reading.Naming)}\n{moved}";
    }

    [GeneratedRegex(@"(?<how>(?:^|(?<=[\s|]))[hpsb]?)(?:(?<string>[1-6])/(?<fret>[0-9]{1,2})|(?<pitch>[A-G][#b♯♭]?-?[0-9]))(?=\s|\||$)")]
    private static partial Regex FigureNotes();

    /// <summary>A figure's line with its notes moved. Strings and frets become pitches: where they lie in another key has to be
    /// found anew.</summary>
    private static string MovedFigure(string line, Chart chart, Func<Pitch, string> moved)
    {
        var at = line.IndexOf(':') + 1;
        var head = Position().Replace(line[..at], "");
        return head + FigureNotes().Replace(line[at..], m =>
        {
            if (m.Groups["pitch"].Success)
                return Pitch.TryParse(m.Groups["pitch"].Value, out var pitch) ? m.Groups["how"].Value + moved(pitch) : m.Value;
            var fret = int.Parse(m.Groups["fret"].Value, System.Globalization.CultureInfo.InvariantCulture);
            return m.Groups["how"].Value
                + moved(
                    Figures.FigureLine.PitchOf(chart.StringsAtRecord.Strings[6 - (m.Groups["string"].Value[0] - '0')] + fret));
        });
    }

    [GeneratedRegex(@"^[\s|:.-]*/[\s|:/.-]*$", RegexOptions.NonBacktracking)]
    private static partial Regex StrokesOnly();

    [GeneratedRegex(@",?\s*position\s+[0-9]+", RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex Position();

    /// <summary>Moves the words below a row, where there is no space, along with the chord or the bar they stand under: from
    /// where the chord before it stands, from where it stood itself, by how much. Null where nobody set them below it.</summary>
    private static Action<int, int, int>? GoingAlong(string[] lines, int row, ChartNaming naming)
    {
        var below = row + 1;
        if (below >= lines.Length || !ChartTextRun.IsLyricLine(lines[below], naming)) return null;
        if (lines[row].Contains('|'))
            return ChartTextRun.IsSetBelow(lines[row], lines[below])
                ? (_, column, by) => lines[below] = ChartLines.PushedBelowBars(lines[below], column, by)
                : null;
        return ChartTextRun.AreSpread(lines[row], lines[below], isNamed: false) ? null
            : (from, column, by) => lines[below] = ChartLines.PushedBelowChords(lines[below], from, column, by, mayPart: false);
    }

    private static string Rewrite(string line, IEnumerable<Slot> slots, int fifths, NoteNames names, Func<string, string> sign,
        ChartNaming written, Key to, bool isAbove, Action<int, int, int>? push)
    {
        var usual = LineTidy.Of(line);
        var moved = new StringBuilder(line);
        var isDrawn = ChartTextRun.AreAlikeApart([.. slots.OrderBy(s => s.Column).Select(s => (s.Column, s.Length))]);
        // Where the chord behind the one that is being written stands in the line.
        int? next = null;
        foreach (var slot in slots.OrderByDescending(s => s.Column))
        {
            var (start, end) = (slot.Column - 1, slot.Column - 1 + slot.Length);
            if (end > line.Length) continue;
            var token = written.InEnglish(usual[start..end]);
            // What stands there may be a shape above a capo, or only a bass; it moves as far as all the rest.
            string? symbol = null;
            if (token[0] == '/' && Note.TryRead(token.AsSpan(1), out var bass, out _))
                symbol = "/" + bass.MoveFifths(fifths).Named(names);
            else if (ChordReader.Read(token).Chord is { } chord) symbol = chord.MoveFifths(fifths).Named(names).Name;
            if (symbol is null) continue;
            var now = (written with { Key = to }).FromEnglish(sign(symbol));
            // In the place of words, so that what follows stays above the same syllable.
            if (usual.IndexOf(' ', start, slot.Length) > 0 && end < line.Length && line[end] == ' ')
                now = now.PadRight(slot.Length);
            var dashes = 0;
            while (isDrawn && end + dashes < line.Length && line[end + dashes] == '-') dashes++;
            if (dashes > 1 && Math.Max(1, dashes + slot.Length - now.Length) is var kept)
                moved.Remove(end, dashes).Insert(end, new string('-', kept));
            // Below bars the words of the next one begin at its bar line.
            if (push is not null && line.Contains('|') && next is { } behind)
                next = end + moved.ToString(end, behind - end).TakeWhile(c => c == ' ').Count();
            if (isAbove && next is { } column && KeepColumn(moved, end, column, now.Length - slot.Length) is > 0 and var more)
                push?.Invoke(start, column, more);
            moved.Remove(start, end - start).Insert(start, now);
            next = start;
        }
        return moved.ToString();
    }

    /// <summary>Takes what a chord is longer from the blanks before the next one, or gives what it is shorter to them, so that
    /// this one stays above its syllable.</summary>
    /// <returns>By how much it stands further right all the same.</returns>
    private static int KeepColumn(StringBuilder line, int from, int to, int more)
    {
        var end = to;
        while (end > from && line[end - 1] != ' ') end--;
        var begin = end;
        while (begin > from && line[begin - 1] == ' ') begin--;
        if (end == begin) return Math.Max(0, more);
        var taken = Math.Clamp(more, 0, end - begin - 1);
        if (more < 0) line.Insert(end, " ", -more);
        else line.Remove(begin, taken);
        return Math.Max(0, more) - taken;
    }
}
