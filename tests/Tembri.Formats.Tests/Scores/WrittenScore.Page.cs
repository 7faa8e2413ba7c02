using System.Globalization;
using System.Text;

namespace Tembri.Formats.Tests.Scores;

/// <content>The page: how the song is engraved.</content>
internal sealed partial class WrittenScore
{
    // Kinds by the names and degrees of the standard, and words programs print for them.
    private static readonly Dictionary<string, (string Kind, string Degrees, string[] Texts)> Kinds = new()
    {
        [""] = ("major", "", ["", "maj", "M"]), ["m"] = ("minor", "", ["m", "mi", "-", "min"]), ["7"] = ("dominant", "", ["7"]),
        ["maj7"] = ("major-seventh", "", ["maj7", "Maj7", "ma7", "M7", "Δ7", "Δ"]), ["m7"] = ("minor-seventh", "", ["m7", "mi7", "-7", "min7"]),
        ["m7b5"] = ("half-diminished", "", ["m7b5", "ø", "ø7", "m7(b5)", "-7b5"]), ["7b9"] = ("dominant", "9 -1 add", ["7b9", "7(b9)", "7♭9"]),
        ["add9"] = ("major", "9 0 add", ["add9", "(add9)", "add2"]), ["sus4"] = ("suspended-fourth", "", ["sus4", "sus"]),
        ["sus2"] = ("suspended-second", "", ["sus2"]), ["m6"] = ("minor-sixth", "", ["m6", "mi6", "-6"]), ["6"] = ("major-sixth", "", ["6"]),
        ["13"] = ("dominant-13th", "", ["13"]), ["dim7"] = ("diminished-seventh", "", ["dim7", "°7", "o7"]), ["dim"] = ("diminished", "", ["dim", "°", "o"]),
        ["+"] = ("augmented", "", ["+", "aug"]), ["5"] = ("power", "", ["5"]), ["7sus4"] = ("suspended-fourth", "7 0 add", ["7sus4", "7sus"]),
        ["m(maj7)"] = ("major-minor", "", ["m(maj7)", "mMaj7", "mM7"]), ["9"] = ("dominant-ninth", "", ["9"]), ["m9"] = ("minor-ninth", "", ["m9", "-9"]),
        ["7#5"] = ("augmented-seventh", "", ["7#5", "7+", "+7", "aug7"]), ["maj9"] = ("major-ninth", "", ["maj9", "M9"]), ["m11"] = ("minor-11th", "", ["m11"]),
    };

    private string Sign(string name, string sound) =>
        Direction($"<{name}/>", _jumps == 1 ? "" : sound);

    private string Jump(string words, string sound)
    {
        var cut = words.LastIndexOf(' ');
        var text = cut > 0 && Often(0.25)
            ? $"<words font-style=\"italic\">{words[..(cut + 1)]}</words><words font-weight=\"bold\">{words[(cut + 1)..]}</words>"
            : $"<words>{words}</words>";
        return Direction(text, _jumps == 1 ? "" : sound);
    }

    private static string Direction(string type, string sound) =>
        $"<direction placement=\"above\"><direction-type>{type}</direction-type>{(sound.Length > 0 ? $"<sound {sound}/>" : "")}</direction>";

    private void Write()
    {
        var written = new StringBuilder();
        var title = _chance.Next(4);
        written.Append(title switch
        {
            0 => $"<work><work-title>{Escaped(Title)}</work-title></work>",
            1 => $"<movement-title>{Escaped(Title)}</movement-title>",
            2 => $"<work><work-title></work-title></work><movement-title>{Escaped(Title)}</movement-title>",
            _ => "",
        });
        written.Append("<identification><encoding><software>An engraving program</software></encoding></identification>");
        if (title == 3)
            written.Append(CultureInfo.InvariantCulture,
                $"<credit page=\"1\"><credit-type>title</credit-type><credit-words font-size=\"22\">{Escaped(Title)}</credit-words></credit>");
        written.Append("<part-list><score-part id=\"P1\"><part-name>Voice</part-name></score-part>");
        if (_two) written.Append("<score-part id=\"P2\"><part-name>Guitar</part-name></score-part>");
        written.Append("</part-list>");
        for (var part = 0; part < (_two ? 2 : 1); part++) WritePart(written, part);
        Text = (Often(0.3) ? "<!DOCTYPE score-partwise PUBLIC \"-//Recordare//DTD MusicXML 3.0 Partwise//EN\" \"http://www.musicxml.org/dtds/partwise.dtd\">\n" : "")
            + $"<score-partwise version=\"3.1\">{written}</score-partwise>";
        Bytes = _chance.Next(4) switch
        {
            0 => [.. Encoding.Unicode.Preamble, .. Encoding.Unicode.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-16\"?>\r\n" + Text)],
            1 => [.. Encoding.UTF8.Preamble, .. Encoding.UTF8.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"no\"?>\n" + Text)],
            2 => Encoding.UTF8.GetBytes("\n <?xml version='1.0' encoding='utf-16'?>\n" + Text),   // as pasted
            _ => Encoding.UTF8.GetBytes(Text),
        };
    }

    private static string Escaped(string text) => text.Replace("&", "&amp;", StringComparison.Ordinal);

    private void WritePart(StringBuilder written, int part)
    {
        var hasChords = _inBoth || part == (_chordsBelow ? 1 : 0);
        var (hasSigns, hasWords) = (part == 0 || !_signsAbove, part == (_lyricsBelow ? 1 : 0));
        var time = "";
        written.Append(CultureInfo.InvariantCulture, $"<part id=\"P{part + 1}\">");
        for (var i = 0; i < _page.Count; i++)
        {
            var measure = _page[i];
            written.Append(CultureInfo.InvariantCulture, $"<measure number=\"{i + 1 - _pickup.Count}\"{(measure.IsPickup ? " implicit=\"yes\"" : "")}>");
            if (measure.Left.Length > 0) written.Append(CultureInfo.InvariantCulture, $"<barline location=\"left\">{measure.Left}</barline>");
            if (measure.Time != time)
            {
                var meter = measure.Time.Split('/');
                written.Append("<attributes>").Append(i == 0 ? $"<divisions>{2 * _divisions}</divisions><key><fifths>{(_isMoved ? 2 : 0)}</fifths></key>" : "")
                    .Append(CultureInfo.InvariantCulture, $"<time><beats>{meter[0]}</beats><beat-type>{meter[1]}</beat-type></time>")
                    .Append(i == 0 && _isMoved ? "<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>" : "").Append("</attributes>");
                time = measure.Time;
            }
            if (hasChords && (measure.Again > 0 || i > 0 && _page[i - 1].Again > 0))
                written.Append(CultureInfo.InvariantCulture,
                    $"<attributes><measure-style><measure-repeat type=\"{(measure.Again > 0 ? "start" : "stop")}\">{(measure.Again > 0 ? "1" : "")}</measure-repeat></measure-style></attributes>");
            if (i == 0 && hasSigns) written.Append(Tempo());
            if (hasSigns && measure.Name is { } name) written.Append(Named(name));
            if (hasSigns) written.AppendJoin("", measure.Before);
            WriteNotes(written, measure, hasChords && measure.Again == 0, hasWords);
            if (hasSigns) written.AppendJoin("", measure.After);
            if (measure.Right.Length > 0) written.Append(CultureInfo.InvariantCulture, $"<barline location=\"right\">{measure.Right}</barline>");
            written.Append("</measure>");
        }
        written.Append("</part>");
    }

    private string Tempo() => _chance.Next(4) switch
    {
        0 => Direction("<words>Gently</words>", $"tempo=\"{Quarters}\""),
        1 => Direction($"<metronome><beat-unit>quarter</beat-unit><per-minute>{Quarters}</per-minute></metronome>", $"tempo=\"{Quarters}\""),
        2 => Direction($"<metronome><beat-unit>half</beat-unit><per-minute>{Quarters / 2}</per-minute></metronome>", ""),
        _ => Direction($"<metronome parentheses=\"no\"><beat-unit>quarter</beat-unit><per-minute>c. {Quarters}</per-minute></metronome>", ""),
    };

    private string Named(string name) => _names switch
    {
        0 => Direction($"<rehearsal enclosure=\"square\">{name}</rehearsal>", ""),
        1 when name.Length > 1 => Direction($"<words>{name}</words>", ""),
        2 when name.Length > 1 => Direction($"<words>[{name}]</words>", ""),
        _ => Direction($"<rehearsal>{name.ToUpperInvariant()}</rehearsal>", ""),
    };

    private void WriteNotes(StringBuilder written, Measure measure, bool hasChords, bool hasWords)
    {
        var (beats, beat) = (Beats(measure), QuartersOfBeat(measure.Time) * _divisions);
        if (_inSecondVoice && hasWords)
            written.Append(CultureInfo.InvariantCulture,
                $"<note><rest/><duration>{beats * beat}</duration><voice>2</voice></note><backup><duration>{beats * beat}</duration></backup>");
        // Where chord symbols stand: before the note they are played with, all at the beginning with how far they are away,
        // after all notes, gone back to, or with notes that are longer than they are.
        var isLong = _hand == 3 && !hasWords;
        void Harmonies(Func<int, bool> where, bool away)
        {
            foreach (var (at, symbol) in measure.Chords)
                if (hasChords && where(at)) written.Append(Harmony(symbol, away ? at * beat : 0));
        }
        if (_hand == 1 || isLong) Harmonies(_ => true, away: true);
        if (isLong)
            written.Append(CultureInfo.InvariantCulture,
                $"<note><rest measure=\"yes\"/><duration>{beats * beat}</duration><voice>1</voice></note>");
        for (var at = 0; at < beats && !isLong; at++)
        {
            if (_hand is 0 or 3) Harmonies(a => a == at, away: false);
            var lyrics = string.Concat(measure.Verses.Select((v, i) => hasWords && at < v.Length ? Lyric(v, at, i + 1) : ""));
            if (_hasGraces && at == 1) written.Append("<note><grace slash=\"yes\"/><pitch><step>D</step><octave>4</octave></pitch><voice>1</voice></note>");
            written.Append(CultureInfo.InvariantCulture,
                $"<note><pitch><step>{"EGAC"[at]}</step><octave>4</octave></pitch><duration>{beat}</duration><voice>1</voice>{lyrics}</note>");
        }
        if (hasChords && _hand == 2)
        {
            written.Append(CultureInfo.InvariantCulture, $"<backup><duration>{beats * beat}</duration></backup>");
            var from = 0;
            foreach (var (at, symbol) in measure.Chords)
            {
                if (at > from) written.Append(CultureInfo.InvariantCulture, $"<forward><duration>{(at - from) * beat}</duration></forward>");
                written.Append(Harmony(symbol, 0));
                from = at;
            }
            written.Append(CultureInfo.InvariantCulture, $"<forward><duration>{(beats - from) * beat}</duration></forward>");
        }
    }

    private static string Lyric(string[] syllables, int at, int verse)
    {
        var (goes, came) = (syllables[at].EndsWith('-'), at > 0 && syllables[at - 1].EndsWith('-'));
        return $"<lyric number=\"{verse}\"><syllabic>{(goes ? came ? "middle" : "begin" : came ? "end" : "single")}</syllabic><text>{syllables[at].TrimEnd('-')}</text></lyric>";
    }

    /// <summary>A whole tone up, as parts are written that sound a tone lower.</summary>
    private static string Higher(string symbol)
    {
        const string Fifths = "FCGDAEB";
        var length = symbol.Length > 1 && symbol[1] is '#' or 'b' ? 2 : 1;
        var place = Fifths.IndexOf(symbol[0], StringComparison.Ordinal) + 2 + (length == 1 ? 0 : symbol[1] == '#' ? 7 : -7);
        return Fifths[(place + 7) % 7] + (place < 0 ? "b" : place > 6 ? place > 13 ? "##" : "#" : "") + symbol[length..];
    }

    private string Harmony(string symbol, int offset)
    {
        if (_isMoved) symbol = string.Join('/', symbol.Split('/').Select(Higher));
        if (_asWords) return Direction($"<words>{symbol}</words>", "");
        var slash = symbol.Split('/');
        var root = slash[0][..(slash[0].StartsWith("##", StringComparison.Ordinal) ? 3 : slash[0].Length > 1 && slash[0][1] is '#' or 'b' ? 2 : 1)];
        var (kind, degrees, texts) = Kinds[slash[0][root.Length..]];
        string Note(string name, string of) =>
            $"<{of}><{of}-step>{name[0]}</{of}-step>{(name.Length > 1 ? $"<{of}-alter>{(name[1] == '#' ? 1 : -1)}</{of}-alter>" : "")}</{of}>";
        var degree = degrees.Split(' ') is [var value, var alter, var type]
            ? $"<degree><degree-value>{value}</degree-value><degree-alter>{alter}</degree-alter><degree-type>{type}</degree-type></degree>"
            : "";
        var bass = slash.Length > 1 ? Note(slash[1], "bass") : "";
        var text = Pick(texts);
        var body = _kinds switch
        {
            0 => $"<kind>{kind}</kind>{bass}{degree}",
            1 => $"<kind text=\"{text}\">{kind}</kind>{bass}{degree.Replace("<degree>", "<degree print-object=\"no\">", StringComparison.Ordinal)}",
            2 => $"<kind text=\"{text}\">other</kind>{bass}",
            _ => $"<kind use-symbols=\"yes\">{kind}</kind>{bass}{degree}",
        };
        return $"<harmony print-frame=\"no\">{Note(root, "root")}{body}{(offset > 0 ? $"<offset>{offset}</offset>" : "")}</harmony>";
    }
}
