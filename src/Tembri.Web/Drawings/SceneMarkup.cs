using System.Globalization;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;

namespace Tembri.Web.Drawings;

/// <summary>The marks of a scene as SVG, written straight to the page. The only place where drawings become markup.</summary>
internal sealed class SceneMarkup(Scene scene) : IHtmlContent
{
    private const double Raise = 0.34, RaisedSize = 0.72;
    private const int LongestNumber = 32;
    private const double Farthest = 1e9;   // beyond any drawing

    /// <inheritdoc/>
    public void WriteTo(TextWriter writer, HtmlEncoder encoder)
    {
        var pen = new Pen(writer, encoder);
        pen.Write(scene.Marks);
    }

    private readonly struct Pen(TextWriter writer, HtmlEncoder encoder)
    {
        /// <summary>Lines one after the other that look alike are one path, and so are slabs.</summary>
        public void Write(IReadOnlyList<Mark> marks)
        {
            for (int from = 0, to; from < marks.Count; from = to)
            {
                to = from + 1;
                while (to < marks.Count && AreOnePath(marks[from], marks[to])) to++;
                if (to == from + 1) Write(marks[from]);
                else WritePath(marks, from, to);
            }
        }

        private static bool AreOnePath(Mark one, Mark other) => (one, other) switch
        {
            (Line a, Line b) => (a.Tone, a.Weight, a.Broken) == (b.Tone, b.Weight, b.Broken),
            (Slab { Round: 0 } a, Slab { Round: 0 } b) => (a.Tone, a.Weight) == (b.Tone, b.Weight),
            _ => false,
        };

        private void WritePath(IReadOnlyList<Mark> marks, int from, int to)
        {
            Open("path");
            Begin("d");
            for (var i = from; i < to; i++)
                if (marks[i] is Line line) Trace(line);
                else Trace((Slab)marks[i]);
            writer.Write('"');
            if (marks[from] is Line first) Stroke(first);
            else if (marks[from] is Slab slab) Paint(slab.Tone, slab.Weight);
            Close("path");
        }

        private void Trace(Line line)
        {
            Step('M', line.X1, line.Y1);
            Step('L', line.X2, line.Y2);
        }

        private void Trace(Slab slab)
        {
            Step('M', slab.X, slab.Y);
            writer.Write('h');
            Number(slab.Width);
            writer.Write('v');
            Number(slab.Height);
            writer.Write('h');
            Number(-slab.Width);
            writer.Write('z');
        }

        private void Step(char command, double x, double y)
        {
            writer.Write(command);
            Number(x);
            writer.Write(' ');
            Number(y);
        }

        private void Stroke(Line line)
        {
            Set("stroke-linecap", "round");
            Paint(line.Tone, line.Weight, isStroke: true);
            if (!line.Broken) return;
            writer.Write(" stroke-dasharray=\"");
            Number(line.Weight * 1.2);
            writer.Write(' ');
            Number(line.Weight * 3.4);
            writer.Write('"');
        }

        private void Write(Mark mark)
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
            Stroke(line);
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
            Write(inset.Scene.Marks);
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
            Write(link.Marks);
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
            // Two digits behind the point are a whole number of hundredths, which is less work than a fraction.
            var hundredths = (long)Math.Round(Math.Clamp(value, -Farthest, Farthest) * 100);
            if (hundredths < 0) writer.Write('-');
            var (whole, rest) = Math.DivRem(Math.Abs(hundredths), 100);
            whole.TryFormat(digits, out var length, default, CultureInfo.InvariantCulture);
            if (rest > 0)
            {
                digits[length++] = '.';
                digits[length++] = (char)('0' + rest / 10);
                if (rest % 10 > 0) digits[length++] = (char)('0' + rest % 10);
            }
            writer.Write(digits[..length]);
        }
    }
}
