using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Unicode;
using System.Xml.Linq;
using AngleSharp.Html.Parser;
using CsCheck;
using Microsoft.AspNetCore.Html;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Web.Drawings;

namespace Tembri.Web.Tests;

/// <summary>What is written straight to a page: every mark of a drawing and every chord, read again by a parser.</summary>
public sealed class MarkupTests
{
    private static readonly HtmlEncoder Encoder = HtmlEncoder.Create(UnicodeRanges.All);
    private static readonly Gen<double> Length = Gen.Double[-400, 400];
    private static readonly Gen<double> Weight = Gen.Select(Gen.Bool, Gen.Double[0.1, 6]).Select((has, w) => has ? w : 0);
    private static readonly Gen<Tone> AnyTone = Gen.Int[0, 5].Select(t => (Tone)t);
    private static readonly Gen<string> Text = Gen.Char["aB ♭♯→<>&\"'/=`é1"].Array[0, 12].Select(c => new string(c));

    private static readonly Gen<IReadOnlyList<(double X, double Y)>> Points =
        Gen.Select(Length, Length).Array[1, 6].Select(p => (IReadOnlyList<(double X, double Y)>)p);

    private static readonly List<Chord> Chords = [.. GripLibrary.All.Select(g => g.Chord).DistinctBy(c => c.Name)];
    private static readonly Gen<Chord> AnyChord = Gen.Int[0, Chords.Count - 1].Select(i => Chords[i]);

    private static readonly Gen<Mark> Plain = Gen.OneOf<Mark>(
        Gen.Select(Length, Length, Length, Length, Weight, AnyTone, Gen.Bool)
            .Select(Mark (a, b, c, d, w, t, broken) => new Line(a, b, c, d, w, t, broken)),
        // Alike, so that several follow each other.
        Gen.Select(Length, Length, Gen.Bool).Select(Mark (a, b, broken) => new Line(a, b, b, a, 1.2, Tone.Ink, broken)),
        Gen.Select(Length, Length, Gen.Bool).Select(Mark (x, y, filled) => new Slab(x, y, 7.5, 8, 0, Tone.Ink, filled ? 0 : 1)),
        Gen.Select(Length, Length, Weight, AnyTone).Select(Mark (x, y, w, t) => new Disc(x, y, 3.456, t, w)),
        Gen.Select(Length, Length, Length, Weight, AnyTone).Select(Mark (x, y, r, w, t) => new Slab(x, y, 7, 8, r, t, w)),
        Gen.Select(Points, AnyTone).Select(Mark (p, t) => new Area(p, t)),
        Gen.Select(Points, Weight, AnyTone).Select(Mark (p, w, t) => new Curve(p, w, t)),
        Gen.Select(Length, Length, Text, AnyTone, Gen.Int[0, 2], Gen.Bool, Gen.Bool)
            .Select(Mark (x, y, text, t, anchor, bold, halo) =>
                new Label(x, y, text, 11, t, (Anchor)anchor, bold) { HasHalo = halo }),
        Gen.Select(Length, Length, AnyChord, AnyTone).Select(Mark (x, y, chord, t) => new Symbol(x, y, chord, 12, t)));

    private static readonly Gen<Mark> AnyMark = Gen.OneOf(Plain,
        Gen.Select(Length, Length, Plain.Array[0, 3], Gen.Double[0.2, 3])
            .Select(Mark (x, y, marks, scale) => new Inset(x, y, new Scene(10, 10, "", marks, scale))),
        Gen.Select(Text, Text, Gen.Bool, Plain.Array[0, 3], Gen.Bool)
            .Select(Mark (address, name, current, marks, keyed) => new Link(address, name, current, marks)
            {
                Key = keyed ? name : null
            }));

    private static string Written(IHtmlContent content)
    {
        using var writer = new StringWriter();
        content.WriteTo(writer, Encoder);
        return writer.ToString();
    }

    /// <summary>A mark taken apart by its own fields: name, attributes, text, what is in it. Numbers as the browser reads
    /// them.</summary>
    private static (string Name, Dictionary<string, object> Said, string? Text, List<Mark> Within) Parts(Mark mark)
    {
        static string Of(char kind, Tone tone) => $"{kind}-{tone.ToString().ToLowerInvariant()}";
        static Dictionary<string, object> Inked(Tone tone, double weight, params (string, object)[] rest)
        {
            var said = rest.ToDictionary(r => r.Item1, r => r.Item2);
            said["class"] = Of(weight > 0 ? 'd' : 'f', tone);
            if (weight > 0) said["stroke-width"] = weight;
            return said;
        }
        switch (mark)
        {
            case Line l:
                var line = new Dictionary<string, object>
                {
                    ["x1"] = l.X1, ["y1"] = l.Y1, ["x2"] = l.X2, ["y2"] = l.Y2, ["stroke-linecap"] = "round",
                    ["class"] = Of('d', l.Tone), ["stroke-width"] = l.Weight,
                };
                if (l.Broken) line["stroke-dasharray"] = (double[])[l.Weight * 1.2, l.Weight * 3.4];
                return ("line", line, null, []);
            case Disc d: return ("circle", Inked(d.Tone, d.Weight, ("cx", d.X), ("cy", d.Y), ("r", d.Radius)), null, []);
            case Slab s:
                return ("rect", Inked(s.Tone, s.Weight, ("x", s.X), ("y", s.Y), ("width", s.Width), ("height", s.Height),
                    ("rx", s.Round)), null, []);
            case Area a: return ("polygon", Inked(a.Tone, 0, ("points", Flat(a.Points))), null, []);
            case Curve c:
                return ("polyline", new()
                {
                    ["points"] = Flat(c.Points), ["class"] = Of('d', c.Tone), ["stroke-width"] = c.Weight
                }, null, []);
            case Label l:
                var label = new Dictionary<string, object>
                {
                    ["x"] = l.X, ["y"] = l.Y, ["font-size"] = l.Size, ["text-anchor"] = l.Anchor.ToString().ToLowerInvariant(),
                    ["class"] = (l.HasHalo ? "halo " : "") + Of('f', l.Tone),
                };
                if (l.Bold) label["font-weight"] = 700.0;
                return ("text", label, l.Text, []);
            case Inset i: return ("g", new() { ["aria-hidden"] = "true" }, null, [.. i.Scene.Marks]);
            case Link l:
                var link = new Dictionary<string, object> { ["href"] = l.Address, ["aria-label"] = l.Name };
                if (l.Key is { } key) link["data-key"] = key;
                if (l.IsCurrent) link["aria-current"] = "true";
                return ("a", link, null, [.. l.Marks]);
            default: throw new InvalidOperationException(mark.GetType().Name);
        }
        static double[] Flat(IReadOnlyList<(double X, double Y)> points) => [.. points.SelectMany(p => (double[])[p.X, p.Y])];
    }

    /// <summary>Each mark is an element, or a part of a path with others that look as it does.</summary>
    private static void AssertAre(IReadOnlyList<Mark> marks, IEnumerable<XElement> elements)
    {
        var at = 0;
        foreach (var element in elements)
        {
            List<XElement> written = element.Name == "path"
                ? [.. element.Attribute("d")!.Value.Split('M', StringSplitOptions.RemoveEmptyEntries).Select(p => Alone(p, element))]
                : [element];
            Assert.Equal(element.Name == "path", written.Count > 1);
            foreach (var one in written) AssertIs(marks[at++], one);
        }
        Assert.Equal(marks.Count, at);

        static XElement Alone(string piece, XElement path)
        {
            var n = piece.Split(' ', 'L', 'h', 'v', 'z');
            var rest = path.Attributes().Where(a => a.Name != "d");
            Assert.True(piece.EndsWith('z') ? n[4] == $"-{n[2]}" : n.Length == 4);
            return piece.EndsWith('z')
                ? new XElement("rect", rest, new XAttribute("x", n[0]), new XAttribute("y", n[1]), new XAttribute("width", n[2]),
                    new XAttribute("height", n[3]), new XAttribute("rx", "0"))
                : new XElement("line", rest, new XAttribute("x1", n[0]), new XAttribute("y1", n[1]), new XAttribute("x2", n[2]),
                    new XAttribute("y2", n[3]));
        }
    }

    private static void AssertIs(Mark mark, XElement element)
    {
        if (mark is Symbol symbol)
        {
            Assert.Equal("text", element.Name);
            Assert.Equal(string.Concat(ChordText.Runs(symbol.Chord).Select(r => r.Text)), element.Value);
            return;
        }
        var (name, said, text, within) = Parts(mark);
        Assert.Equal(name, element.Name);
        foreach (var (what, value) in said)
        {
            var written = element.Attribute(what)!.Value;
            if (value is string word) Assert.Equal(word, written);
            else
            {
                var numbers = written.Split(' ', ',').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
                double[] meant = value is double one ? [one] : (double[])value;
                Assert.Equal(meant.Length, numbers.Length);
                Assert.All(meant.Zip(numbers), n => Assert.Equal(n.First, n.Second, 0.0051));
            }
        }
        Assert.Equal(said.Count + (mark is Inset ? 1 : 0), element.Attributes().Count());
        if (text is not null) Assert.Equal(text, element.Value);
        else AssertAre(within, element.Elements());
        if (text is not null) Assert.Empty(element.Elements());
        if (mark is Inset inset)
            Assert.Matches(@"^translate\(-?[\d.]+ -?[\d.]+\) scale\([\d.]+\)$", element.Attribute("transform")!.Value);
    }

    [Fact]
    public void Every_mark_is_written_with_its_own_numbers_and_words_whatever_stands_in_them() =>
        AnyMark.Array[0, 6].Sample(marks =>
        {
            var read = XElement.Parse($"<svg>{Written(new SceneMarkup(new Scene(100, 50, "", marks)))}</svg>",
                LoadOptions.PreserveWhitespace);
            AssertAre(marks, read.Elements());
        }, iter: 1_000);

    [Fact]
    public void A_chord_in_a_line_is_its_name_with_what_is_added_raised_and_signs_apart()
    {
        var parser = new HtmlParser();
        foreach (var chord in Chords)
            foreach (var names in Enum.GetValues<NoteNames>())
            {
                var named = chord.Named(names);
                var markup = Written(new ChordMarkup(named));
                var read = parser.ParseDocument(markup).Body!;
                Assert.Equal("chord", Assert.Single(read.Children).ClassName);
                Assert.Equal(named.Name.Replace("dim", "°", StringComparison.Ordinal), read.TextContent.Trim());
                Assert.All(read.QuerySelectorAll(".acc"),
                    sign => Assert.Contains(sign.TextContent, (string[])["♭", "♯", "°", "ø"]));
                Assert.DoesNotContain(named.Root.ToString(),
                    string.Concat(read.QuerySelectorAll("sup").Select(s => s.TextContent)), StringComparison.Ordinal);
            }
    }
}
