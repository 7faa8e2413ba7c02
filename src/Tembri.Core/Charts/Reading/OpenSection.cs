using System.Text.RegularExpressions;
using Tembri.Core.Figures;

namespace Tembri.Core.Charts.Reading;

/// <summary>A section while it is being read.</summary>
internal sealed class OpenSection(string name, int times, int line)
{
    public string Name { get; set; } = name;
    public int Times { get; set; } = times;
    public int Line { get; } = line;
    public List<Bar> Bars { get; } = [];

    /// <summary>For each bar the one it repeats, by its place among the bars; itself for a bar that was written.</summary>
    public List<int> Repeats { get; } = [];

    /// <summary>Where an open repeat began, with its line and column in the text; null when none is open.</summary>
    public (int Bar, int Line, int Column)? OpenRepeat { get; set; }

    /// <summary>The endings of the repeat that is being read; null when it has none.</summary>
    public PassEndings? Ending { get; set; }

    /// <summary>How many bars there were when a sign repeated some once more; null where none did.</summary>
    public int? ClosedAt { get; set; }

    /// <summary>Adds a bar.</summary>
    /// <param name="bar">The bar.</param>
    /// <param name="repeats">The bar it repeats; null for a bar that was written.</param>
    public void Add(Bar bar, int? repeats = null)
    {
        Repeats.Add(repeats ?? Bars.Count);
        Bars.Add(bar);
    }

    /// <summary>Takes the last bars out again.</summary>
    /// <param name="from">The first that goes.</param>
    public void RemoveFrom(int from)
    {
        Bars.RemoveRange(from, Bars.Count - from);
        Repeats.RemoveRange(from, Repeats.Count - from);
    }

    /// <summary>The section it is written after, null for a section of its own.</summary>
    public string? Like { get; set; }

    /// <summary>True when nothing in the text says that it follows that one.</summary>
    public bool IsLikeAssumed { get; set; }

    /// <summary>Bars of its own by number, for a section written after another.</summary>
    public SortedDictionary<int, Bar> OwnBars { get; } = [];

    /// <summary>Words of its own, for a section written after another.</summary>
    public List<string> Words { get; } = [];

    public string Strum { get; set; } = "";

    /// <summary>Whether its words stand above its lines of bars, or below them; null until a line has words.</summary>
    public bool? HasWordsAbove { get; set; }

    /// <summary>How many bars its name says it has; null where it says none.</summary>
    public int? BarsSaid { get; set; }

    /// <summary>True when its name says as well that those bars are repeated: Chorus (8 bars, repeat).</summary>
    public bool IsSaidTwice { get; set; }

    /// <summary>How long each of its chords lasts where nothing stands behind them; null where that is not said.</summary>
    public Match? Each { get; set; }

    /// <summary>Lines of figures with their numbers in the text.</summary>
    public List<(FigureText.Unread Figure, int Line)> Figures { get; } = [];

    /// <summary>True when there is something to play in it.</summary>
    public bool IsEmpty => Bars.Count == 0 && Like is null;

    /// <summary>The section read: for one written after another, that one's bars with its own in their places.</summary>
    /// <param name="parent">The section it is written after.</param>
    /// <param name="strings">The open strings where strings and frets of figures are counted.</param>
    /// <param name="problemAt">Told line, column and what does not fit.</param>
    public Section Finish(Section? parent, Fretboard.Tuning strings, Action<int, int, string> problemAt)
    {
        void problem(string message) => problemAt(Line, 1, message);
        List<Figure> FiguresIn(IReadOnlyList<Bar> all) =>
            [.. Figures.Select(
                    f => FigureText.Read(f.Figure, all, strings, (column, message) => problemAt(f.Line, column, message)))
                .OfType<Figure>()];
        if (parent is null) return new Section(Name, Bars) { Strum = Strum, Line = Line, Figures = FiguresIn(Bars) };
        // Lines without a number are the last ones: "as verse 1, but with this last line".
        if (Bars.Count > parent.Bars.Count)
            problem($"{Name} is written after {parent.Name}, which has {parent.Bars.Count} bars; it "
                + $"cannot end in {Bars.Count} other ones.");
        var last = Math.Min(Bars.Count, parent.Bars.Count);
        for (var i = 0; i < last; i++) OwnBars.TryAdd(parent.Bars.Count - last + i + 1, Bars[i]);
        foreach (var number in OwnBars.Keys.Where(n => n < 1 || n > parent.Bars.Count).ToList())
        {
            problem($"{parent.Name} has {parent.Bars.Count} bars, so {Name} has no bar {number}.");
            OwnBars.Remove(number);
        }
        var bars = parent.Bars.Select(
                (b, i) => OwnBars.TryGetValue(i + 1, out var own) ? own with { StartsLine = b.StartsLine } : b).ToList();
        var lines = bars.Where((b, i) => i == 0 || b.StartsLine).Count();
        if (Words.Count > 0)
            for (var (i, line) = (0, -1); i < bars.Count; i++)
            {
                var startsLine = i == 0 || bars[i].StartsLine;
                if (startsLine) line++;
                if (OwnBars.ContainsKey(i + 1)) continue;
                // What is more than the lines there are stands with the last of them.
                var sung = line < lines - 1 ? Words.Skip(line).Take(1) : Words.Skip(line);
                bars[i] = bars[i] with { Lead = startsLine ? string.Join(' ', sung) : "",
                    Slots = [.. bars[i].Slots.Select(s => s with { Lyric = "" })] };
            }
        return new Section(Name, bars)
        {
            Line = Line, Like = parent.Name, IsLikeAssumed = IsLikeAssumed, OwnBars = [.. OwnBars.Keys], Words = Words,
            Strum = Strum.Length > 0 ? Strum : parent.Strum, Figures = Figures.Count > 0 ? FiguresIn(bars) : parent.Figures
        };
    }
}

/// <summary>Endings of a repeat while they are read.</summary>
internal sealed class PassEndings
{
    /// <summary>The first bar that every pass plays.</summary>
    public required int From { get; init; }

    /// <summary>The bar behind the last that every pass plays.</summary>
    public required int To { get; init; }

    /// <summary>Where the first of them was written.</summary>
    public required int Line { get; init; }

    /// <summary>The first bar of the ending that is being read.</summary>
    public required int Here { get; set; }

    /// <summary>Passes it is for, 1 or more.</summary>
    public required int Passes { get; set; }

    /// <summary>True once its repeat sign was read.</summary>
    public bool IsClosed { get; set; }

    /// <summary>True when there is more than one.</summary>
    public bool HasSecond { get; set; }
}
