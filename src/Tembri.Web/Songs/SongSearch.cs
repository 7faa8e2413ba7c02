using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Data;
using Tembri.Data.Songs;

namespace Tembri.Web.Songs;

/// <summary>Finds songs by what stands in them: words of title, sections and lyrics, chords, key, tempo, meter, tags,
/// techniques.</summary>
/// <remarks>
/// What a song is found by is one text, in which a chord, a key, a meter and a technique are words of their own making, so that
/// PostgreSQL's full text search finds them as it finds words.
/// A title that is misspelt is found by its trigrams.
/// </remarks>
internal static partial class SongSearch
{
    /// <summary>The longest text that is looked for.</summary>
    public const int LongestQuery = 120;

    private const int LongestText = 20_000;
    private const double LikeEnough = 0.4;   // of a title's trigrams

    [GeneratedRegex(@"[\p{L}\p{Nd}♯♭#°ø/+'’-]+")]
    private static partial Regex Word();

    [GeneratedRegex(@"^\d{1,2}/\d{1,2}$")]
    private static partial Regex MeterWord();

    /// <summary>What a song is found by.</summary>
    public static string TextOf(Song song, Chart chart)
    {
        var words = new List<string> { song.Title, string.Join(' ', song.Tags), KeyToken(chart.Key) };
        words.AddRange(
            chart.Sections.Select(s => s.UsualMeter).Append(chart.Meter).Distinct().Select(m => MeterToken(m.ToString())));
        words.AddRange(chart.Chords.Select(c => ChordToken(c.Name)));
        foreach (var section in chart.Sections)
        {
            words.Add(section.Name);
            foreach (var bar in section.Bars)
            {
                words.Add(bar.Lead);
                words.AddRange(bar.Slots.Select(s => s.Lyric).Where(l => l.Length > 0));
            }
        }
        // Syllables are written apart; a word is found whole.
        return PlainText.Cut(
            string.Join(' ', words.Where(w => w.Length > 0)).Replace("- ", "", StringComparison.Ordinal).ToLowerInvariant(),
            LongestText);
    }

    /// <summary>What the versions of a song ask of a hand, in words a teacher looks for.</summary>
    public static string[] TechniquesOf(Ladder ladder)
    {
        var (rungs, chart) = (ladder.Playable.ToList(), ladder.Chart);
        bool Some(Func<PlayableRung, bool> what) => rungs.Exists(r => what(r));
        IEnumerable<(bool Has, string Word)> all =
        [
            (Some(r => r.Played.Any(c => c.Choice.Fingering.LongestBarre is > 1 and <= Core.Shapes.Barre.LongestShort)),
                "short barre"),
            (Some(r => r.Played.Any(c => c.Choice.Fingering.LongestBarre > Core.Shapes.Barre.LongestShort)), "full barre"),
            (Some(r => r.Played.Any(c => c.Choice.Fingering.UsesThumb)), "thumb over"),
            (Some(r => r.Changes.Any(c => c.Change.Anchors.Count >= 2)), "parked fingers"),
            (ladder.Flow.Chords.Any(c => c.Bass is not null), "slash bass"),
            (chart.Sections.Any(s => s.RecordedHand.IsPicked), "picking"),
            (chart.Sections.Any(s => s.RecordedHand.Swing > Core.Strums.StrumPattern.Straight), "swing"),
            (chart.Sections.Any(s => s.Figures.Count > 0), "riff"),
            (chart.Sections.Any(s => s.Bars.Any(b => b.Slots.Any(x => x.IsEarly))), "pushed changes"),
            (ladder.Chart.RecordCapo > 0 || ladder.RecommendedCapo > 0, "capo"),
        ];
        return [.. all.Where(x => x.Has).Select(x => x.Word)];
    }

    /// <summary>The techniques there are, for a list to choose from.</summary>
    public static readonly IReadOnlyList<string> Techniques = ["short barre", "full barre", "thumb over", "parked fingers",
        "slash bass", "picking", "swing", "riff", "pushed changes", "capo"];

    private static readonly HashSet<string> TechniqueWords = [.. Techniques.SelectMany(t => t.Split(' '))];

    /// <summary>Songs in which everything that is looked for is found: in their words, or, for the words of techniques, in what
    /// was arranged of them.</summary>
    /// <param name="context">The studio's data.</param>
    /// <param name="text">What for.</param>
    public static IQueryable<Song> Matching(TembriDbContext context, string text)
    {
        var (plain, techniques, numbers) = PartsOf(text);
        var songs = context.Songs.AsNoTracking();
        // The parsed words are a column of the database alone: no page needs them.
        IQueryable<Guid> With(string query) =>
            context.Database.SqlQuery<Guid>($"""select id as "Value" from songs where studio_id = {context.CurrentStudioId} and search_words @@ to_tsquery('simple', {query})""");
        if (plain.Count > 0)
        {
            var found = With(string.Join(" & ", plain));
            songs = songs.Where(s => found.Contains(s.Id));
        }
        foreach (var part in techniques)
        {
            var found = With(part);
            songs = songs.Where(s => found.Contains(s.Id)
                || context.ArrangedLadders.Any(a => a.SongId == s.Id
                    && EF.Functions.ToTsVector("simple", a.Techniques).Matches(EF.Functions.ToTsQuery("simple", part))));
        }
        foreach (var number in numbers)
        {
            var found = With($"{number}");
            songs = songs.Where(s => s.Tempo == number || found.Contains(s.Id));
        }
        return songs;
    }

    /// <summary>Songs whose title is like what is looked for: for words that are found nowhere as they are written.</summary>
    public static IQueryable<Song> Like(TembriDbContext context, string text)
    {
        var title = text.Trim().ToLowerInvariant();
        return context.Songs.AsNoTracking()
            .Where(s => EF.Functions.TrigramsWordSimilarity(title, s.Title.ToLower()) > LikeEnough);
    }

    /// <summary>What is asked in PostgreSQL's own syntax, a part a word, those of techniques apart. A word that may be a chord
    /// is looked for as both; so is a number that may be a tempo, which stands by itself.</summary>
    internal static (IReadOnlyList<string> Plain, IReadOnlyList<string> Techniques, IReadOnlyList<int> Numbers) PartsOf(
        string text)
    {
        var words = Word().Matches(text.Length > LongestQuery ? text[..LongestQuery] : text).Select(m => m.Value).ToList();
        var (parts, techniques, numbers) = (new List<string>(), new List<string>(), new List<int>());
        for (var i = 0; i < words.Count; i++)
        {
            var word = words[i];
            if (word.ToLowerInvariant() is "key" or "in" && i + 1 < words.Count && KeyAt(words, i + 1) is var (key, used))
            {
                parts.Add(KeyToken(key));
                i += used;
                continue;
            }
            if (MeterWord().IsMatch(word)) { parts.Add(MeterToken(word)); continue; }
            if (int.TryParse(word, CultureInfo.InvariantCulture, out var number)
                && number is >= SlowestTempo and <= FastestTempo)
            {
                numbers.Add(number);
                continue;
            }
            var alternatives = new List<string>();
            // What is written as a chord is one; only where it is also a word, that word is looked for as well.
            if (char.IsAsciiLetterUpper(word[0]) && ChordReader.Read(word).Chord is { } chord)
                alternatives.AddRange(
                    word.All(char.IsLetter) ? [ChordToken(chord.Name), word.ToLowerInvariant()] : [ChordToken(chord.Name)]);
            else alternatives.AddRange(Plain(word).Select(p => $"{p}:*"));
            if (alternatives.Count == 0) continue;
            (TechniqueWords.Contains(word.ToLowerInvariant()) ? techniques : parts)
                .Add(alternatives.Count == 1 ? alternatives[0] : $"({string.Join(" | ", alternatives)})");
        }
        return (parts, techniques, numbers);
    }

    private const int SlowestTempo = 20, FastestTempo = 320;

    private static IEnumerable<string> Plain(string word) =>
        word.ToLowerInvariant().Split(['\'', '’', '-', '/', '+', '°', 'ø', '♯', '♭', '#'], StringSplitOptions.RemoveEmptyEntries)
            .Where(p => p.All(char.IsLetterOrDigit)).Take(3);

    private static (Key Key, int Used)? KeyAt(List<string> words, int at)
    {
        if (at + 1 < words.Count && words[at + 1].ToLowerInvariant() is "minor" or "major"
            && Key.TryParse($"{words[at]} {words[at + 1].ToLowerInvariant()}", out var named))
            return (named, 2);
        return char.IsAsciiLetterUpper(words[at][0]) && Key.TryParse(words[at], out var key) ? (key, 1) : null;
    }

    private static string KeyToken(Key key) => "keyz" + Letters(key.ToString());

    private static string MeterToken(string meter) => "meterz" + meter.Replace('/', 'z');

    private static string ChordToken(string chord) => "chordz" + Letters(chord);

    // A sign becomes letters, so that the text search takes the whole for one word.
    private static string Letters(string name) => string.Concat(name.Select(c => c switch
    {
        '♯' or '#' => "qs", '♭' => "qf", '/' => "qo", '°' => "qd", 'ø' => "qh", '+' => "qp", '(' or ')' or ' ' => "",
        _ => char.IsLetterOrDigit(c) ? char.ToLowerInvariant(c).ToString() : "q",
    }));
}
