using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>The names of facts, in English and as guitarists of other countries call them, and keys by such names.</content>
internal sealed partial class ChartHeader
{
    private const string FormNames =
        @"(?:(?:song|play|playing|running)\s+)?(?:form|structure|order)|order\sof\s(?:play|playing|sections|parts)|road ?map|arrangement|sequence|(?:song )?map|"
            + "ablauf|aufbau|reihenfolge|ordre|estructura|struttura|estrutura|orden|ordine|ordem|opbouw|volgorde";
    private const string ArtistNames = @"artist|(?:song)?writer|composer|author|(?:written|words|lyrics|music|composed|performed|arranged)\sby|interpret|künstler|artiste|interprète|artista|intérprete|interprete|artiest";
    private const string TitleNames = @"(?:song\s)?title|(?:song\sname|name\sof\s(?:the\s)?song)|titel|titre|título|titulo|titolo";
    private const string KeyNames = @"(?:(?:original|song|concert|sounding)\s+)?key|(?:original)?tonart|tonalit(?:é|e|à)|tonalidade?|tonacja|toneart|toonsoort";

    // Short words, which anybody may say before a colon: only where a key or a meter follows.
    private const string Keyed = @"(?:ton|tono|tom)(?=\s*:\s*" + ForeignKey + @"\s*(?:\(|$))";
    private const string MeterNames = @"(?:takt(?:art)?|mesure|comp[aá]s|compasso|maat(?:soort)?|metro|metrum)(?=\s*:\s*[0-9C])";
    private const string TuningNames = @"(?:gitarren)?stimmung|accordage|afinaci[oó]n|afinaç[aã]o|accordatura|stemming";
    private const string CapoName = "(?:[ck]apo(?:daster|dasder|dastre|dastro|tasto|traste)?|cejilla|cejillo)";
    // What a fact is called in any of these ways is the group it is in; the others have one name each.
    private const string Names = "(?<title>" + TitleNames + ")|(?<artist>" + ArtistNames + ")|(?<key>" + KeyNames + "|" + Keyed + ")|(?<meter>"
        + MeterNames + ")|(?<capo>" + CapoName + ")|(?<tuning>tuning|" + TuningNames + ")|(?<form>" + FormNames
            + ")|t|tempo|bpm|meter|time|record capo|voice|melody|recording|take|note|source|names|tags";
    private const string ByDash = "title|artist|key|tempo|bpm|meter|time|capo|tuning|(?<form>order|form|structure)";   // which a dash may follow in place of a colon
    private const string Values = "(?:" + KeyNames + "|tempo|bpm|meter|time|" + MeterNames + "|" + CapoName + "|tuning|" + TuningNames + ")";

    /// <summary>That there is none, behind the name of a capo.</summary>
    private const string None =
        "(?:none|no|[-–—]{1,3}|n/a|aucun|sans|kein(?:er|en|e)?|ohne|sin|ningun[oa]|senza|nessun[oa]?|sem|nenhum|geen|zonder)";
    private const string FretWord = @"(?:\.?(?:\s*(?:fret|bund|case|traste|tasto|casa|vak|próg|bånd|band))?)";
    private const string CapoPlace =
        @"(?:(?:on|at|in|im|am|auf|en|à|a|al|sul|no|na|nel|op)\s+|@\s*)?(?:(?:the|dem|el|la|de|le|het)\s+)?(?:(?:fret|bund|case|traste|tasto|casa|vak|próg|bånd|band)\s+)?";
    private const string Counted = "(?:st|nd|rd|th|[eè]re|re|er|[eè]me|e|º|ª|°|o|a)?";
    private const string CapoFret = CapoPlace + "(?<fret>[0-9]{1,2}|[ivx]{1,4})" + Counted + FretWord;
    private const string CapoAt = CapoName + Is + CapoFret + @"(?:\s*=\s*[A-H](?:#|b|♯|♭)?m?)?";
    private const string NoCapo = @"(?<capo>(?:no|without|ohne|kein|sans|sin|senza|sem|geen|zonder)\s+" + CapoName + "|" + CapoName + Is + None + ")";

    private const string InGerman = @"[A-H](?:is|es|s)?(?:\s*-\s*|\s+)?(?:dur|moll)";
    private const string ForeignSign = @"(?:[#♯b♭]|[\s-](?:flat|sharp)|\s(?:di[eè]sis|di[eè]se|sostenido|sustenido|b[eé]mole?|bemolle))?";
    private const string ForeignMode = @"(?:\s*(?:m|min|maj|minor|major|majeur|mineur|mayor|menor|maior|maggiore|minore))?";
    private const string ForeignKey = "(?:" + InGerman + "|(?:do|ut|r[eé]|mi|f[aá]|sol|l[aá]|s[ií]|[A-H])" + ForeignSign + ForeignMode + ")";

    private static readonly string[] HaveSeveralNames = ["title", "artist", "key", "meter", "capo", "tuning", "form"];

    /// <summary>The name of a fact, by one name where it has several.</summary>
    private static string NameIn(Match header) =>
        Array.Find(HaveSeveralNames, name => header.Groups[name].Success) ?? header.Groups["name"].Value.ToLowerInvariant();

    [GeneratedRegex(@"^(?:(?<tone>[A-H](?:is|es|s)?)(?:\s*-\s*|\s+)?(?<mode>dur|moll)|(?<tone>[A-H](?:is|es)|[AE]s|H)(?<mode>m?))$", LinePatterns.AnyCase)]
    private static partial Regex GermanKey();

    [GeneratedRegex(@"^(?<tone>do|ut|r[eé]|mi|f[aá]|sol|l[aá]|s[ií]|[A-H])(?<sign>" + ForeignSign + ")(?<mode>" + ForeignMode + ")$",
        LinePatterns.AnyCase)]
    private static partial Regex KeyAbroad();

    /// <summary>A key as it is called in German, <c>fis-Moll</c>, or by syllables and in words of other languages, <c>La
    /// menor</c>, <c>Sol majeur</c>, in English; any other value as it is.</summary>
    private static string InEnglish(string key)
    {
        if (GermanKey().Match(key) is { Success: true } german)
        {
            var tone = german.Groups["tone"].Value.ToLowerInvariant();
            var letter = tone switch { "h" => "B", "b" => "Bb", _ => char.ToUpperInvariant(tone[0]).ToString() };
            return letter + (tone.Length == 1 ? "" : tone[1..] == "is" ? "#" : "b")
                + (german.Groups["mode"].ValueSpan.StartsWith("m", StringComparison.OrdinalIgnoreCase) ? "m" : "");
        }
        if (Music.Key.TryParse(key, out _) || KeyAbroad().Match(key) is not { Success: true } abroad) return key;
        var sign = abroad.Groups["sign"].Value.Trim(' ', '-').ToLowerInvariant() switch
        {
            "" => "",
            ['#' or '♯' or 'd' or 's', ..] => "#",
            _ => "b",
        };
        var name = abroad.Groups["tone"].Value.ToLowerInvariant();
        var isMinor = abroad.Groups["mode"].Value.Trim().ToLowerInvariant() is "m" or ['m', 'i', 'n', ..] or "menor";
        return (name.Length == 1 ? name.ToUpperInvariant() : name[0] switch
        {
            'd' or 'u' => "C", 'r' => "D", 'm' => "E", 'f' => "F", 'l' => "A", _ => name is "sol" ? "G" : "B",
        }) + sign + (isMinor ? "m" : "");
    }
}
