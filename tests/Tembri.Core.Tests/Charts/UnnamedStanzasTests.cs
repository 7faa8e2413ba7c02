using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Tests.Charts;

/// <summary>Many name the chorus alone. What is sung between two choruses is no part of either, as if it had a name.</summary>
public sealed class UnnamedStanzasTests
{
    private static readonly string[] Pool = ["C", "G", "Am", "F", "Dm", "Em", "D7/F#", "Bb"];
    private static readonly string[] Words = ["harbour lights are low", "nobody knows the hour", "walk me to the window", "seven stones to carry"];

    /// <summary>One song, once with a name above each section, once with its verses and its bridge without.</summary>
    private sealed class Song
    {
        private readonly Random _chance;
        private readonly bool _inBrackets, _hasBlanks;
        private readonly List<string> _named = [], _unnamed = [];

        public string Named => string.Join("\n\n", _named);
        public string Unnamed => string.Join("\n\n", _unnamed);

        public Song(int seed)
        {
            _chance = new Random(seed);
            (_inBrackets, _hasBlanks) = (_chance.Next(2) == 0, _chance.Next(4) == 0);
            var (verse, chorus) = (Part("C"), Part("F"));
            var endsWithMarks = _chance.Next(4) == 0;
            for (var n = 1; n <= 3; n++)
            {
                Add($"Verse {n}", verse, isNamed: false);
                var isWritten = n == 1 || _chance.Next(2) == 0;
                if (isWritten) Add("Chorus", chorus, isNamed: true, endsWithMarks);
                else
                {
                    _named.Add("[Chorus]");
                    _unnamed.Add("[Chorus]");
                }
                // Behind a mark that ends the chorus the verse may have chords of its own.
                if (isWritten && endsWithMarks && _chance.Next(2) == 0) verse = Part("Em");
            }
        }

        /// <summary>Two or three rows; verse and chorus begin with chords of their own.</summary>
        private List<string[]> Part(string first) =>
            [.. Enumerable.Range(0, _chance.Next(2, 4)).Select(r => Enumerable.Range(0, _chance.Next(2, 4))
                .Select(i => r + i == 0 ? first : Pool[_chance.Next(Pool.Length)]).ToArray())];

        private void Add(string name, List<string[]> rows, bool isNamed, bool isMarked = false)
        {
            var lines = string.Join('\n', rows.Select(Row));
            var head = isMarked ? $"{{start_of_{name.ToLowerInvariant()}}}" : $"[{name}]";
            var whole = $"{head}\n{(_hasBlanks ? "\n" : "")}{lines}{(isMarked ? $"\n{{end_of_{name.ToLowerInvariant()}}}" : "")}";
            _named.Add(whole);
            _unnamed.Add(isNamed ? whole : lines);
        }

        private string Row(string[] chords)
        {
            var sung = chords.Select(_ => Words[_chance.Next(Words.Length)]).ToList();
            return _inBrackets ? string.Join(' ', chords.Zip(sung, (c, w) => $"[{c}]{w}"))
                : string.Concat(chords.Zip(sung, (c, w) => c.PadRight(w.Length + 1))).TrimEnd() + "\n" + string.Join(' ', sung);
        }
    }

    private static IEnumerable<string> Played(Chart chart) =>
        chart.Form.Select(p => EditCheck.Bars(chart.Sections.Single(s => s.Name == p.Section)));

    [Fact]
    public void A_verse_without_a_name_is_what_it_is_with_one()
    {
        foreach (var song in Enumerable.Range(0, 400).Select(s => new Song(s)))
        {
            var (named, unnamed) = (ChartReader.Read(song.Named).Chart, ChartReader.Read(song.Unnamed).Chart);
            Assert.True(Played(named).SequenceEqual(Played(unnamed)), $"{song.Unnamed}\n{string.Join("\n", Played(named))}\n----\n{string.Join("\n", Played(unnamed))}");
        }
    }

    /// <summary>A change of the chords that show where it begins takes nothing with it.</summary>
    [Fact]
    public void A_bar_of_a_verse_without_a_name_is_changed_alone()
    {
        foreach (var song in Enumerable.Range(0, 100).Select(s => new Song(s)))
        {
            var before = ChartReader.Read(song.Unnamed).Chart;
            for (var s = 0; s < before.Sections.Count; s++)
            {
                if (before.Sections[s].Like is not null) continue;
                var edited = BarEdits.Write(song.Unnamed, new(s, 0), "F#m7b5");
                Assert.True(edited.Text is not null, $"{song.Unnamed}\n{s}: {edited.Fault}");
                var after = ChartReader.Read(edited.Text!).Chart;
                Assert.Equal(before.Sections.Select(o => o.Name), after.Sections.Select(o => o.Name));
                Assert.Equal("F♯m7♭5", after.Sections[s].Bars[0].Slots[0].Chord?.Name);
                Assert.Equal(before.Sections.Select(o => o.Bars.Count), after.Sections.Select(o => o.Bars.Count));
            }
        }
    }
}
