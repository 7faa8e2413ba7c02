using System.Text.RegularExpressions;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <summary>Chords named by their place in the key: by number, <c>1 5 6m 4</c>, or by numeral, <c>I V vi IV</c>.</summary>
/// <remarks>
/// Numbers are those of the major scale, in a minor key those of the natural minor one. A numeral's size says major or minor, a
/// number's <c>m</c> or dash does. <c>1/3</c> is over the key's third note, <c>V7/V</c> the fifth of the fifth.
/// </remarks>
internal static partial class DegreeNames
{
    private const string Behind = @"(?<rest>(?:maj|min|dim|sus|add|aug|m|M|7|9|11|13|69|6|5|4|2|[#b♯♭()+°øo∆Δ-])*)";

    // A second figure is a seventh, ninth, eleventh or thirteenth; 12 and 16 are numbers of something else.
    [GeneratedRegex(@"^(?<sign>[#b♯♭]?)(?<degree>[1-7])(?![2-6])" + Behind + @"(?:/(?<bassSign>[#b♯♭]?)(?<bass>[1-7]))?$")]
    private static partial Regex Number();

    [GeneratedRegex(@"^(?<sign>[#b♯♭]?)(?<degree>VII|VI|IV|V|III|II|I|vii|vi|iv|v|iii|ii|i)" + Behind
            + @"(?:/(?:(?<bassSign>[#b♯♭]?)(?<bass>[1-7])|(?<ofSign>[#b♯♭]?)(?<of>VII|VI|IV|V|III|II|vii|vi|iv|v|iii|ii)))?$")]
    private static partial Regex Numeral();

    private static readonly string[] Numerals = ["I", "II", "III", "IV", "V", "VI", "VII"];
    private static readonly int[] Major = [0, 2, 4, -1, 1, 3, 5];   // fifths above the tonic
    private static readonly int[] Minor = [0, 2, -3, -1, 1, -4, -2];
    private static readonly string[] Signs = ["", "b", "#"];
    private const int Semitone = 7;   // fifths from a note to the same with a sharp
    private const string TriadsOfMajor = "MmmMMmd", TriadsOfMinor = "mdMmmMM";

    /// <summary>True for a chord by number or numeral.</summary>
    public static bool IsNamed(string symbol, ChartNames names) =>
        names is ChartNames.Numerals ? Numeral().IsMatch(symbol) : Number().IsMatch(symbol);

    /// <summary>What people write between two of them without a blank.</summary>
    private const string Joints = "-–—>→";

    /// <summary>Numbers or numerals with dashes between them and no blanks, <c>1-5-6m-4</c>, with their places; null for any
    /// other piece of a line. As a dash behind a number says minor as well, three of them stand alone in their line.</summary>
    public static List<(string Text, int At)>? Joined(string piece, bool isAlone, ChartNames names)
    {
        if (piece.AsSpan().IndexOfAny(Joints) < 1) return null;
        var (parts, at) = (new List<(string Text, int At)>(), 0);
        foreach (var part in piece.Split([.. Joints]))
        {
            if (part.Length > 0) parts.Add((part, at));
            at += part.Length + 1;
        }
        var (fewest, isCount) = names is ChartNames.Numerals ? (2, false)
            : (isAlone ? 3 : 4, parts.Select((p, i) => p.Text == $"{i + 1}").All(isNext => isNext));
        return parts.Count >= fewest && !isCount && parts.TrueForAll(p => IsNamed(p.Text, names)) ? parts : null;
    }

    /// <summary>True for a number that says itself that it is minor.</summary>
    public static bool SaysMinor(string symbol) =>
        Number().Match(symbol) is { Success: true } match && match.Groups["rest"].Value is ['-', ..] or ['m', not 'a', ..] or "m";

    /// <summary>A chord's symbol in a key; as it is where it is none.</summary>
    /// <param name="symbol">The number or numeral with what stands behind it.</param>
    /// <param name="naming">By which of them, and in which key.</param>
    public static string InEnglish(string symbol, ChartNaming naming)
    {
        var isNumeral = naming.Names == ChartNames.Numerals;
        if ((isNumeral ? Numeral() : Number()).Match(symbol) is not { Success: true } match) return symbol;
        var (sign, written, rest) = (match.Groups["sign"].Value, match.Groups["degree"].Value, match.Groups["rest"].Value);
        var (degree, key) = (isNumeral ? Placed(written) : written[0] - '0', naming.Key);
        // The fifth of the fifth: what is named stands in the major key of what is behind the stroke.
        if (match.Groups["of"] is { Success: true } of) key = new Key(NoteOf(match.Groups["ofSign"].Value, Placed(of.Value), key), false);
        var triad = isNumeral ? char.IsLower(written[0]) ? 'm' : 'M'
            : naming.Names == ChartNames.ScaleNumbers && sign.Length == 0 && rest is "" or "7" or "9"
                ? (key.IsMinor ? TriadsOfMinor : TriadsOfMajor)[degree - 1]
            : 'M';
        var isDiminished = rest is ['d', 'i', ..] or ['°', ..] or ['o', ..];
        var quality = (triad, rest) switch
        {
            (_, ['o', .. var more]) => "dim" + more,
            ('d', "") => "dim",
            ('d', _) => "m7b5",
            ('m', not (['ø' or 'm' or '-', ..] or ['s', 'u', 's', ..] or ['d', ..] or ['°', ..])) => "m" + rest,
            _ => rest,
        };
        // In a minor key the diminished chord stands on the leading tone.
        var root = NoteOf(sign, degree, isDiminished && degree == 7 ? key with { IsMinor = false } : key);
        var bass = match.Groups["bass"] is { Success: true } low
            ? "/" + NoteOf(match.Groups["bassSign"].Value, low.Value[0] - '0', naming.Key).ToAscii()
            : "";
        return root.ToAscii() + quality + bass;
    }

    /// <summary>A chord's number or numeral in a key; as it is where it is no chord.</summary>
    /// <param name="symbol">The symbol under the names used here; a bass alone behind its stroke.</param>
    /// <param name="naming">By which of them, and in which key.</param>
    public static string FromEnglish(string symbol, ChartNaming naming)
    {
        if (symbol is ['/', .. var alone])
            return Note.TryRead(alone, out var only, out var length) && length == alone.Length
                ? "/" + DegreeOf(only, naming.Key)
                : symbol;
        if (!Note.TryRead(symbol, out var root, out var at)) return symbol;
        var (rest, bass) = (symbol[at..], "");
        if (rest.LastIndexOf('/') is >= 0 and var stroke && Note.TryRead(rest.AsSpan(stroke + 1), out var low, out _))
            (rest, bass) = (rest[..stroke], "/" + DegreeOf(low, naming.Key));
        var isMinor = rest is "m" or ['m', not 'a', ..] or ['-', ..];
        var isDiminished = rest is ['d', 'i', ..] or ['°', ..];
        // In a minor key a diminished chord on 7 stands on the leading tone, so the other seventh note says its sign.
        var isSeventh = root.Fifths == naming.Key.Tonic.Fifths + Major[6] || root.Fifths == naming.Key.Tonic.Fifths + Minor[6];
        var number = DegreeOf(root, isDiminished && isSeventh ? naming.Key with { IsMinor = false } : naming.Key);
        if (naming.Names == ChartNames.Numerals)
        {
            var numeral = number[..^1] + Numerals[number[^1] - '1'];
            return (isMinor ? numeral.ToLowerInvariant() + rest[1..]
                : isDiminished || rest is ['ø', ..] ? numeral.ToLowerInvariant() + rest
                : numeral + rest) + bass;
        }
        // What the scale would make minor says that it is not.
        if (InEnglish(number + rest, naming) != root.ToAscii() + rest) rest = rest.Length == 0 ? "maj" : $"({rest})";
        return number + rest + bass;
    }

    private static int Placed(string numeral) => Array.IndexOf(Numerals, numeral.ToUpperInvariant()) + 1;

    private static bool IsLowered(int degree, Key key) => key.IsMinor && degree is (3 or 6 or 7);

    private static Note NoteOf(string sign, int degree, Key key)
    {
        var fifths = (key.IsMinor ? Minor : Major)[degree - 1];
        // In a minor key ♭3, ♭6 and ♭7 are what 3, 6 and 7 are already.
        if (sign is "b" or "♭" && !IsLowered(degree, key)) fifths -= Semitone;
        if (sign is "#" or "♯") fifths += Semitone;
        return key.Tonic.MoveFifths(fifths);
    }

    /// <summary>A note's number in a key, with its sign: by its name, or, far from the key, by its pitch.</summary>
    private static string DegreeOf(Note note, Key key)
    {
        var all = Signs.SelectMany(_ => Enumerable.Range(1, Major.Length), (sign, degree) => (Sign: sign, Degree: degree))
            .Where(d => d.Sign != "b" || !IsLowered(d.Degree, key)).ToList();
        var found = all.FindIndex(d => NoteOf(d.Sign, d.Degree, key) == note);
        if (found < 0) found = all.FindIndex(d => NoteOf(d.Sign, d.Degree, key).PitchClass == note.PitchClass);
        return $"{all[found].Sign}{all[found].Degree}";
    }
}
