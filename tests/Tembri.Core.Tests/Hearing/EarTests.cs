using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;

namespace Tembri.Core.Tests.Hearing;

/// <summary>The ear, with tones made by formula; songs by an independent synthesiser are in the tests of the formats.</summary>
public class EarTests
{
    private const int Rate = Tones.Rate;

    private static MonoSound Play(Chart chart, double tempo, double cents = 0, int semitones = 0) =>
        Tones.Play(chart, tempo, cents, semitones);

    private const string Song =
        "tempo: 100\nform: Verse, Chorus, Verse, Chorus\n\n[Verse]\n| G | Em | C | D |\n\n[Chorus]\n| C | G | Am . D . | G |\n";

    [Fact]
    public void A_sound_keeps_its_tones_at_another_rate()
    {
        Gen.Select(Gen.Double[60, 3600],
                Gen.OneOf(Gen.Const(44100), Gen.Const(48000), Gen.Const(22050), Gen.Const(32000), Gen.Const(96000)))
            .Sample((hertz, rate) =>
        {
            var sound = new MonoSound(
                    [.. Enumerable.Range(0, rate / 2).Select(i => (float)Math.Sin(2 * Math.PI * hertz * i / rate))], rate)
                .At(11025);
            Assert.InRange(sound.Samples.Length, 5511, 5513);
            // Away from both ends it is the same sine, sample by sample.
            for (var i = 400; i < 5000; i += 37) Assert.Equal(Math.Sin(2 * Math.PI * hertz * i / 11025), sound.Samples[i], 0.02);
        }, iter: 40);
    }

    [Fact]
    public void What_lies_above_half_the_new_rate_is_gone()
    {
        var sound = new MonoSound([.. Enumerable.Range(0, 22050).Select(i => (float)Math.Sin(2 * Math.PI * 8000 * i / 44100))],
                44100).At(11025);
        Assert.True(sound.Samples[400..^400].Max(Math.Abs) < 0.01);
    }

    [Theory]
    [InlineData(0, 0, 100)]
    [InlineData(-35, 2, 88)]
    [InlineData(30, -3, 126)]
    public void Tuning_key_tempo_and_bars_are_found(double cents, int semitones, double tempo)
    {
        var chart = ChartReader.Read(Song).Chart;
        var heard = Ear.Listen(Play(chart, tempo, cents, semitones), chart);
        Assert.True(heard.Matches);
        Assert.Equal(semitones, heard.Semitones);
        Assert.Equal(cents, heard.Cents, 4.0);
        Assert.Equal(tempo, heard.Tempo, tempo * 0.01);
        Assert.Equal(chart.PlayedPlaces(), heard.Bars.Select(b => (b.Section, b.Bar)));
        Assert.Equal([1, 1, 2, 2], heard.Bars.Where(b => b.Bar == 0).Select(b => b.Pass));
        for (var i = 0; i < heard.Bars.Count; i++) Assert.Equal(0.5 + i * 4 * 60 / tempo, heard.Bars[i].Start, 0.08);
        Assert.All(heard.Places, p => Assert.True(p.Agrees, $"{p.Written} heard as {p.Heard}"));
        Assert.All(heard.Places, p => Assert.Equal(HeardChord.TriadOf(p.Written!, 0), HeardChord.TriadOf(p.Heard, 0)));
    }

    [Fact]
    public void A_wrong_chord_is_found_at_all_its_times_and_no_other_is()
    {
        var played = ChartReader.Read(Song).Chart;
        var written =
            ChartReader.Read(Song.Replace("| G | Em | C | D |", "| G | Em | Am | D |", StringComparison.Ordinal)).Chart;
        var heard = Ear.Listen(Play(played, 100), written);
        var wrong = Assert.Single(heard.Places, p => !p.Agrees);
        Assert.Equal((0, 2, 0, "C"), (wrong.Section, wrong.Bar, wrong.Slot, wrong.Heard.WithoutBass().Name[..1]));
        Assert.True(wrong.Certainty > 0.8);
        Assert.Equal(2, wrong.Passes.Count);
        Assert.All(wrong.Passes, p => Assert.True(p.Agrees));
        Assert.Equal(1, wrong.Notes.Max());
    }

    [Fact]
    public void An_empty_place_is_filled_with_what_is_heard()
    {
        var heard = Ear.Listen(Play(ChartReader.Read(Song).Chart, 100),
            ChartReader.Read(Song.Replace("| C | G |", "| C | ? |", StringComparison.Ordinal)).Chart);
        var asked = Assert.Single(heard.Places, p => p.Written is null);
        Assert.Equal(("G", 1, 1), (asked.Heard.Name, asked.Section, asked.Bar));
    }

    [Fact]
    public void A_form_that_is_played_otherwise_is_said()
    {
        var written = ChartReader.Read(Song).Chart;
        var heard = Ear.Listen(Play(ChartReader.Read(Song.Replace("form: Verse, Chorus, Verse, Chorus",
                    "form: Verse, Verse, Chorus, Verse, Chorus", StringComparison.Ordinal)).Chart, 100), written);
        var more = Assert.Single(heard.FormChanges);
        Assert.Equal((FormChangeKind.More, 0, 4), (more.Kind, more.Section, more.Bars));
        Assert.Equal(3, heard.Bars.Where(b => b.Section == 0).Max(b => b.Pass));
    }

    [Fact]
    public void Another_song_is_no_match()
    {
        var played = ChartReader.Read("tempo: 100\n[A]\n| F#m | B7 | E | C#m |\n| A | B | G#m | C#7 |\n| F#m | Am | E | B |\n| "
            + "Dm | F#m | E | E |\n").Chart;
        Assert.False(Ear.Listen(Play(played, 100), ChartReader.Read(Song).Chart).Matches);
    }

    [Fact]
    public void Without_a_chart_a_draft_has_the_chords_in_their_order()
    {
        var heard = Ear.Listen(Play(ChartReader.Read(Song).Chart, 100), null);
        var draft = heard.Draft!;
        Assert.True(heard.Matches);
        Assert.Equal(100, draft.Tempo, 2.0);
        var triads = draft.Played().Select(s => HeardChord.TriadOf(s.Chord!, 0)).ToList();
        var rows = triads.Where((t, i) => i == 0 || t != triads[i - 1]).ToList();
        var truth = ChartReader.Read(Song).Chart.Played().Select(s => HeardChord.TriadOf(s.Chord!, 0)).ToList();
        Assert.Equal(truth.Where((t, i) => i == 0 || t != truth[i - 1]), rows);
        // What is drafted is a chart that reads back.
        Assert.Equal(draft.Played().Select(s => s.Symbol),
            ChartReader.Read(ChartWriter.Write(draft)).Chart.Played().Select(s => s.Symbol));
    }

    [Fact]
    public void What_is_no_music_matches_nothing()
    {
        var random = new Random(5);
        var chart = ChartReader.Read(Song).Chart;
        var noise = new MonoSound([.. Enumerable.Range(0, 20 * Rate).Select(_ => (float)(random.NextDouble() - 0.5))], Rate);
        // Talk: a voice that glides, in syllables.
        var (talk, phase) = (new float[20 * Rate], 0.0);
        for (var i = 0; i < talk.Length; i++)
        {
            var t = (double)i / Rate;
            phase += 2 * Math.PI * (120 + 30 * Math.Sin(2 * t) + 20 * Math.Sin(7.3 * t)) / Rate;
            talk[i] = (float)(Enumerable.Range(1, 12).Sum(h => Math.Sin(h * phase) / h) * 0.2
                * Math.Pow(Math.Max(0, Math.Sin(2 * Math.PI * 3.1 * t + Math.Sin(t))), 2));
        }
        foreach (var (sound, with) in new[]
        {
            (noise, chart), (noise, null), (new MonoSound(talk, Rate), chart), (new MonoSound(talk, Rate), null)
        })
            Assert.Contains("No chords are heard", Assert.Throws<HearingRefusedException>(() => Ear.Listen(sound, with)).Message,
                StringComparison.Ordinal);
        Assert.Contains("silent", Ear.Objection(new MonoSound(new float[20 * Rate], Rate)), StringComparison.Ordinal);
        Assert.Contains("at least", Ear.Objection(new MonoSound(new float[Rate], Rate)), StringComparison.Ordinal);
        Assert.Contains("at most", Ear.Objection(new MonoSound(new float[601 * Rate], Rate)), StringComparison.Ordinal);
        Assert.Contains("no sound", Ear.Objection(new MonoSound([.. Enumerable.Repeat(float.NaN, 20 * Rate)], Rate)),
            StringComparison.Ordinal);
    }

    [Fact]
    public void How_loud_it_was_recorded_changes_nothing()
    {
        var chart = ChartReader.Read(Song).Chart;
        var sound = Play(chart, 100);
        var (loud, soft) =
            (Ear.Listen(sound, chart), Ear.Listen(sound with { Samples = [.. sound.Samples.Select(s => s * 0.02f)] }, chart));
        Assert.Equal(loud.Bars.Select(b => b.Start), soft.Bars.Select(b => b.Start));
        Assert.Equal(loud.Places.Select(p => p.Heard), soft.Places.Select(p => p.Heard));
    }
}
