using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Formats.Tests.Hostile;

/// <summary>An input with the name of what it tries.</summary>
public sealed record HostileInput(string Name, byte[] Data);

/// <summary>Inputs that mean harm or were damaged: recipes kept in <c>tests/corpora</c>, and as many more as wanted, each made
/// from its number alone.</summary>
public sealed class HostileInputs
{
    /// <summary>The largest input made, in bytes.</summary>
    public const int Largest = 65_536;

    private static readonly string[] Tokens =
    [
        " ", "  ", "\n", "\r\n", "\t", "|", "| ", "|:", ":|", "[", "]", "(", ")", "{", "}", ":", "~", "~ | E4 |\n", "%", "| % ",
        ".", " . ", "-", "<", "/", "x", "x20", "x99", "as", "#", "\0", "\u0007", "\uD83C", "♭", "♯",
        "C", "C#m7b5/E", "Am ", "Csus4 ", "C(", "C((((", "H", "N.C. ", "NC", "[C]", "[C .]", "[Verse]\n",
        "[Verse 2: as Verse]\n", "Verse:\n", "Verse 1: x20\n", "form: ", "form: Q x20\n", "Q x20, ", "title: ", "{title: ",
        "key: ", "key: Eb\n",
        "tempo: ", "meter: 7/8\n", "meter: 24/16\n", "2/4 ", "24/16 ", "capo: 3\n", "voice: A2 to E4\n", "melody: ",
        "take: live, capo 3\n", "take: ", "strum: ", "strum: D-du-udu\n", "strum: (((((", "{kept: a}\n", "1: | C |\n", "999: ",
        "<G ", "/B ",
        "(hold) ", "(pause)", "(()", "word ", "the quick ", "| C . . . | G | Am | F |\n", "| C | :|\n", "|: C :| x20\n",
        "C G Am F\n", "| C F . |\n", "[C]Salt on the [G]sill\n", "| [C]a [G .]b | (x) [F]c |\n",
    ];

    private static readonly string[] JsonTokens =
    [
        "{", "}", "[", "]", ",", ":", "null", "null,", "\"\"", "true", "1e308", "-1", "2147483648",
        "\"format\":\"tembri chart\"", "\"version\":1", "\"version\":99", "\"sections\":[", "\"bars\":[", "\"slots\":[",
        "\"chord\":\"C\"", "\"chord\":null", "\"beats\":4",
        "\"beats\":1e-300", "\"form\":[", "\"section\":\"A\"", "\"times\":99", "\"as\":\"A\"", "\"ownBars\":[1,2,99]",
        "\"words\":[null]", "\"melody\":[{\"pitch\":\"C4\",\"at\":1e300,\"beats\":1}]", "\"title\":\"\\u0000\\ud83c\"",
        "\"name\":\"A\"", "\"tempo\":1e308", "\"takes\":[null]",
    ];

    private static readonly string[] XmlTokens =
    [
        "<score-partwise>", "</score-partwise>", "<part id='P1'>", "</part>", "<measure number='1'>", "</measure>",
        "<harmony><root><root-step>C</root-step></root><kind>major</kind></harmony>", "<harmony/>",
        "<note><rest/><duration>4</duration></note>",
        "<note><pitch><step>C</step><octave>4</octave></pitch><duration>1e300</duration></note>",
        "<note><duration>NaN</duration></note>",
        "<attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>",
        "<attributes><divisions>2147483647</divisions></attributes>",
        "<barline><repeat direction='backward' times='20'/></barline>", "<barline><repeat direction='forward'/></barline>",
        "<barline><ending number='1' type='start'/></barline>",
        "<direction><direction-type><rehearsal>Q</rehearsal></direction-type></direction>",
        "<direction><direction-type><words>let it ring</words></direction-type></direction>",
        "<backup><duration>99</duration></backup>", "<a>", "<a b='c' d='e'/>", "&lt;", "&x;", "<!DOCTYPE a [<!ENTITY x 'y'>]>",
        "<sound tempo='1e308'/>", "<lyric><text>la</text></lyric>", " ",
    ];

    private readonly byte[][] _good;

    /// <summary>Prepares the good files that are damaged.</summary>
    public HostileInputs()
    {
        const string text =
            "title: Salt\nkey: C\ntempo: 90\nform: Verse x2, Chorus\n[Verse]\nstrum: D-du-udu\n| C | Am . F . | 2/4 G7 | C |\n~ "
                + "| C4 E4 | - | G4 | - |\n[Chorus]\n| [F]Leave it | [C .]leave [G .]it |\n[Verse 2: as Verse]\n2: | F |\n";
        var chart = ChartReader.Read(text).Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 0 });
        var version = new VersionChart(ladder, ladder.Played(5));
        _good = [Encoding.UTF8.GetBytes(text),
            .. new[] { ChartFormat.MusicXml, ChartFormat.Mxl, ChartFormat.Midi, ChartFormat.Json }.Select(
                f => ChartFiles.Write(version, f).Bytes), ChartFiles.Write(chart, ChartFormat.Json).Bytes,
            ChartFiles.Write(chart, ChartFormat.MusicXml).Bytes];
    }

    private sealed record Recipe(string Name, string? Before, string? Repeat, int Times, string? After, string? Base64,
        string? Count);

    /// <summary>The recipes of <c>tests/corpora/charts.json</c>. In a repeated text <c>{n}</c> is the number of the repeat, from
    /// 1.</summary>
    public static IReadOnlyList<HostileInput> Kept(string repository)
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web) { ReadCommentHandling = JsonCommentHandling.Skip };
        var recipes = JsonSerializer.Deserialize<List<Recipe>>(
            File.ReadAllText(Path.Combine(repository, "tests", "corpora", "charts.json")), options)!;
        return [.. recipes.Select(
            r => new HostileInput(r.Name, r.Base64 is { } packed ? Convert.FromBase64String(packed) : Encoding.UTF8.GetBytes(
            r.Before
                + string.Concat(Enumerable.Range(1, r.Times)
                    .Select(n => r.Repeat!.Replace("{n}", n.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        StringComparison.Ordinal))) + r.After)))];
    }

    /// <summary>The input of a number; the same every time.</summary>
    public HostileInput Make(int number)
    {
        var random = new Random(number);
        var (name, data) = (number % 8) switch
        {
            0 => ("flood of one token", Bytes(Flood(random, Tokens))),
            1 => ("mixture of tokens", Bytes(Mixture(random, Tokens, "\n"))),
            2 => ("damaged file", Damaged(random, _good[random.Next(_good.Length)])),
            3 => ("mixture of JSON", Bytes("{\"format\":\"tembri chart\",\"version\":1," + Mixture(random, JsonTokens, ","))),
            4 => ("mixture of XML",
                Bytes("<score-partwise><part id='P1'><measure number='1'>" + Mixture(random, XmlTokens, "")
                    + "</measure></part></score-partwise>")),
            5 => ("MIDI of chance", Midi(random)),
            6 => ("chart with pieces repeated", Bytes(Repeated(random, Encoding.UTF8.GetString(_good[0])))),
            _ => ("packed", Packed(random)),
        };
        return new HostileInput($"{number}: {name}", data.Length > Largest ? data[..Largest] : data);
    }

    private static byte[] Bytes(string text) => new UTF8Encoding(false).GetBytes(text);

    private static int Size(Random random) => (int)Math.Pow(2, 4 + random.NextDouble() * 12);

    private static string Flood(Random random, string[] tokens)
    {
        var (size, token, other) = (Size(random), tokens[random.Next(tokens.Length)], tokens[random.Next(tokens.Length)]);
        var text = new StringBuilder(random.Next(3) == 0 ? "" : tokens[random.Next(tokens.Length)]);
        var both = random.Next(2) == 0;
        while (text.Length < size) text.Append(token).Append(both ? other : "");
        return text.Append(tokens[random.Next(tokens.Length)]).ToString();
    }

    private static string Mixture(Random random, string[] tokens, string between)
    {
        var size = Size(random);
        var few = Enumerable.Range(0, random.Next(2, 9)).Select(_ => tokens[random.Next(tokens.Length)]).ToArray();
        var text = new StringBuilder();
        while (text.Length < size) text.Append(few[random.Next(few.Length)]).Append(random.Next(4) == 0 ? between : "");
        return text.ToString();
    }

    private static byte[] Damaged(Random random, byte[] good)
    {
        var data = random.Next(3) == 0 ? good[..random.Next(good.Length)] : (byte[])good.Clone();
        for (var i = random.Next(12); i > 0 && data.Length > 0; i--) data[random.Next(data.Length)] = (byte)random.Next(256);
        return data;
    }

    private static string Repeated(Random random, string good)
    {
        var (from, length) = (random.Next(good.Length), random.Next(1, 40));
        var piece = good.Substring(from, Math.Min(length, good.Length - from));
        var text = new StringBuilder(good[..from]);
        for (var size = Size(random); text.Length < size;) text.Append(piece);
        return text.Append(good[from..]).ToString();
    }

    private static byte[] Midi(Random random)
    {
        var track = new List<byte>();
        for (var (i, size) = (0, Size(random)); track.Count < size; i++)
        {
            // Times between events are short, or as long as four bytes can say.
            if (random.Next(6) == 0) track.AddRange([0xFF, 0xFF, 0xFF, 0x7F]);
            else track.Add((byte)random.Next(128));
            track.AddRange(random.Next(7) switch
            {
                0 => [0x80, (byte)random.Next(128), 0],
                1 => [0xFF, 0x06, 1, (byte)'A'],
                2 => [0xFF, 0x58, 4, (byte)random.Next(1, 20), (byte)random.Next(5), 24, 8],
                3 => [0xFF, 0x01, 2, (byte)'A', (byte)'m'],
                4 => [0xFF, 0x51, 3, (byte)random.Next(256), (byte)random.Next(256), (byte)random.Next(256)],
                _ => new byte[] { 0x90, (byte)random.Next(128), (byte)random.Next(128) },
            });
        }
        var ticks = random.Next(3) == 0 ? 1 : random.Next(1, 960);
        byte[] head = [.. "MThd"u8, 0, 0, 0, 6, 0, 1, 0, 1, (byte)(ticks >> 8), (byte)ticks, .. "MTrk"u8];
        track.AddRange([0, 0xFF, 0x2F, 0]);
        return [.. head, (byte)(track.Count >> 24), (byte)(track.Count >> 16), (byte)(track.Count >> 8), (byte)track.Count,
            .. track];
    }

    private byte[] Packed(Random random)
    {
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            using var entry = zip.CreateEntry(random.Next(2) == 0 ? "score.musicxml" : "META-INF/container.xml").Open();
            var content = random.Next(3) == 0 ? _good[1] : Bytes(Mixture(random, XmlTokens, ""));
            for (var i = random.Next(1, 200); i > 0; i--) entry.Write(content);
        }
        return Damaged(new Random(random.Next()), bytes.ToArray());
    }
}
