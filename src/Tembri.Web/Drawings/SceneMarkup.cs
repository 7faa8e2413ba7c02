using System.Globalization;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;

namespace Tembri.Web.Drawings;

/// <summary>The marks of a scene as SVG, written straight to the page. The only place where drawings become markup.</summary>
internal sealed class SceneMarkup(Scene scene) : IHtmlContent
{
    private const double Raise = 0.34, RaisedSize = 0.72;
    private const int LongestNumber = 32;

    /// <inheritdoc/>
    public void WriteTo(TextWriter writer, HtmlEncoder encoder)
    {
        var pen = new Pen(writer, encoder);
        foreach (var mark in scene.Marks) pen.Write(mark);
    }

    private readonly struct Pen(TextWriter writer, HtmlEncoder encoder)
    {
        public void Write(Mark mark)
        {
            switch (mark)
            {
                case Line l: Write(l); break;
                case Disc d:
                    Open("circle");
                    Set("cx", d.X);
                    Set("cy", d.Y);
                    Set("r", d.Radius);
                    Paint(d.Tone, d.Weight);
                    Close("circle");
                    break;
                case Slab s: Write(s); break;
                case Area a:
                    Open("polygon");
                    Set(a.Points);
                    Paint(a.Tone, 0);
                    Close("polygon");
                    break;
                case Curve c:
                    Open("polyline");
                    Set(c.Points);
                    Paint(c.Tone, c.Weight, isStroke: true);
                    Close("polyline");
                    break;
                case Label l: Write(l); break;
                case Symbol s: Write(s); break;
                case Inset i: Write(i); break;
                case Link l: Write(l); break;
                default: throw new InvalidOperationException($"There is no SVG for {mark.GetType().Name}.");
            }
        }

        private void Write(Line line)
        {
            Open("line");
            Set("x1", line.X1);
            Set("y1", line.Y1);
            Set("x2", line.X2);
            Set("y2", line.Y2);
            Set("stroke-linecap", "round");
            Paint(line.Tone, line.Weight, isStroke: true);
            if (line.Broken)
            {
                writer.Write(" stroke-dasharray=\"");
                Number(line.Weight * 1.2);
                writer.Write(' ');
                Number(line.Weight * 3.4);
                writer.Write('"');
            }
            Close("line");
        }

        private void Write(Slab slab)
        {
            Open("rect");
            Set("x", slab.X);
            Set("y", slab.Y);
            Set("width", slab.Width);
            Set("height", slab.Height);
            Set("rx", slab.Round);
            Paint(slab.Tone, slab.Weight);
            Close("rect");
        }

        private void Write(Label label)
        {
            OpenText(label.X, label.Y, label.Size);
            Set("class", label.HasHalo ? $"halo {Filled(label.Tone)}" : Filled(label.Tone));
            Set("text-anchor", label.Anchor switch { Anchor.Start => "start", Anchor.Middle => "middle", _ => "end" });
            if (label.Bold) Set("font-weight", "700");
            writer.Write('>');
            encoder.Encode(writer, label.Text);
            writer.Write("</text>");
        }

        private void Write(Symbol symbol)
        {
            OpenText(symbol.X, symbol.Y, symbol.Size);
            Set("class", $"{Filled(symbol.Tone)} serif");
            Set("text-anchor", "middle");
            Set("font-weight", "600");
            writer.Write('>');
            var raised = false;
            foreach (var run in ChordText.Runs(symbol.Chord))
            {
                Open("tspan");
                if (run.Raised != raised) Set("dy", (run.Raised ? -Raise : Raise) * symbol.Size);
                if (run.Raised) Set("font-size", RaisedSize * symbol.Size);
                raised = run.Raised;
                writer.Write('>');
                encoder.Encode(writer, run.Text);
                writer.Write("</tspan>");
            }
            writer.Write("</text>");
        }

        private void Write(Inset inset)
        {
            Open("g");
            writer.Write(" transform=\"translate(");
            Number(inset.X);
            writer.Write(' ');
            Number(inset.Y);
            writer.Write(") scale(");
            Number(inset.Scene.Scale);
            writer.Write(")\" aria-hidden=\"true\">");
            foreach (var mark in inset.Scene.Marks) Write(mark);
            writer.Write("</g>");
        }

        private void Write(Link link)
        {
            Open("a");
            Set("href", link.Address);
            Set("aria-label", link.Name);
            if (link.Key is { } key) Set("data-key", key);
            if (link.IsCurrent) Set("aria-current", "true");
            writer.Write('>');
            foreach (var mark in link.Marks) Write(mark);
            writer.Write("</a>");
        }

        private void Open(string name)
        {
            writer.Write('<');
            writer.Write(name);
        }

        private void OpenText(double x, double y, double size)
        {
            Open("text");
            Set("x", x);
            Set("y", y);
            Set("font-size", size);
        }

        private void Close(string name)
        {
            writer.Write("></");
            writer.Write(name);
            writer.Write('>');
        }

        /// <summary>Ink as an outline where it has a weight, else as a filling.</summary>
        private void Paint(Tone tone, double weight, bool isStroke = false)
        {
            var outlined = isStroke || weight > 0;
            Set("class", outlined ? Outlined(tone) : Filled(tone));
            if (outlined) Set("stroke-width", weight);
        }

        private static string Outlined(Tone tone) => tone switch
        {
            Tone.Ink => "d-ink", Tone.Pencil => "d-pencil", Tone.Rule => "d-rule", Tone.Accent => "d-accent",
            Tone.Paper => "d-paper", _ => "d-clear",
        };

        private static string Filled(Tone tone) => tone switch
        {
            Tone.Ink => "f-ink", Tone.Pencil => "f-pencil", Tone.Rule => "f-rule", Tone.Accent => "f-accent",
            Tone.Paper => "f-paper", _ => "f-clear",
        };

        private void Set(string name, string value)
        {
            Begin(name);
            encoder.Encode(writer, value);
            writer.Write('"');
        }

        private void Set(string name, double value)
        {
            Begin(name);
            Number(value);
            writer.Write('"');
        }

        private void Set(IReadOnlyList<(double X, double Y)> points)
        {
            Begin("points");
            for (var i = 0; i < points.Count; i++)
            {
                if (i > 0) writer.Write(' ');
                Number(points[i].X);
                writer.Write(',');
                Number(points[i].Y);
            }
            writer.Write('"');
        }

        private void Begin(string name)
        {
            writer.Write(' ');
            writer.Write(name);
            writer.Write("=\"");
        }

        private void Number(double value)
        {
            Span<char> digits = stackalloc char[LongestNumber];
            Math.Round(value, 2).TryFormat(digits, out var length, default, CultureInfo.InvariantCulture);
            writer.Write(digits[..length]);
        }
    }
}
