using System.Diagnostics;
using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;
using Tembri.Formats.Tests.Hearing;

namespace Tembri.Bench;

/// <summary>Plays made-up songs by an independent synthesiser, writes wrong chords into their charts, and counts what the ear
/// finds. Needs fluidsynth and its sound set, and lame for what is compressed.</summary>
internal static class HearingCheck
{
    private sealed record Tally
    {
        public int Wrong, Found, Named, Right, False, Places, Triads, Songs, Keys, Tempos, Unmatched;
        public List<double> Off { get; } = [];
        public List<double> Seconds { get; } = [];
    }

    public static int Run(IReadOnlyList<string> args)
    {
        var count = args.Count > 0 && int.TryParse(args[0], out var n) ? n : 16;
        if (args.Contains("wrong")) return WrongSongs(count);
        var first = args.Count > 1 && int.TryParse(args[1], out var f) ? f : 1;
        var only = args.Count > 2 ? args[2] : null;
        var folder = Directory.CreateTempSubdirectory().FullName;
        var kinds = new (string Name, BandSong.Kind Kind)[]
        {
            ("band", new()), ("band, hard", new(0, 0, 0.06, 20, true)),
            ("hard, 96 kb/s", new(0, 0, 0.06, 20, true, Kilobits: 96)), ("band, 48 kb/s", new(Kilobits: 48)),
            ("guitar", new(Mix: BandSong.Mix.Guitar)), ("piano", new(Mix: BandSong.Mix.Piano)),
            ("no drums", new(Mix: BandSong.Mix.BandWithoutDrums)), ("other form", new(OtherForm: true)),
        };
        Console.WriteLine("| what | songs | key | tempo | wrong found | named right | false alarms | triads right | bars off, "
            + "median, nine of ten | taken for another song | s a song |");
        Console.WriteLine("|---|---|---|---|---|---|---|---|---|---|---|");
        foreach (var (name, kind) in kinds)
        {
            if (only is not null && name != only) continue;
            var tally = new Tally();
            for (var seed = first; seed < first + count; seed++)
            {
                var random = new Random(seed * 17);
                var own = name.Contains("hard", StringComparison.Ordinal)
                    ? kind with { Cents = random.Next(-40, 41), Semitones = random.Next(-3, 4) }
                    : kind;
                One(seed, own, folder, tally, args.Contains("say"));
            }
            tally.Off.Sort();
            string Share(int a, int b) =>
                b == 0 ? "–" : string.Create(CultureInfo.InvariantCulture, $"{100.0 * a / b:0.0} % ({a}/{b})");
            double At(double share) => tally.Off.Count == 0 ? double.NaN : tally.Off[(int)(share * (tally.Off.Count - 1))];
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"| {name} | {tally.Songs} | {Share(tally.Keys, tally.Songs)} | {Share(tally.Tempos, tally.Songs)} | "
                    + $"{Share(tally.Found, tally.Wrong)} | {Share(tally.Named, tally.Wrong)} | "
                    + $"{Share(tally.False, tally.Right)} | {Share(tally.Triads, tally.Places)} | {At(0.5):0.000} "
                    + $"{At(0.9):0.000} s | {tally.Unmatched} | {tally.Seconds.Average():0.0} |"));
        }
        Directory.Delete(folder, true);
        return 0;
    }

    /// <summary>Recordings held against the charts of other songs, and against their own: the shares of time that
    /// agree.</summary>
    private static int WrongSongs(int count)
    {
        var folder = Directory.CreateTempSubdirectory().FullName;
        var (same, other) = (new List<string>(), new List<string>());
        for (var seed = 1; seed <= count; seed++)
        {
            var song = new BandSong(7351 * seed + 5,
                (seed % 3) switch
                {
                    0 => new(Noise: 20, Room: true, Drift: 0.06),
                    1 => new(OtherForm: true),
                    _ => new(Semitones: -2)
                });
            var sound = song.Render(folder);
            same.Add($"{song} {song.Played.Count} bars "
                + Said(Ear.Listen(sound, ChartReader.Read(song.WithWrongChords(6).Text).Chart)));
            other.Add(Said(Ear.Listen(sound, new BandSong(9173 * seed + 11, new()).Chart)));
        }
        Directory.Delete(folder, true);
        string Said(HearingResult h) =>
            string.Create(CultureInfo.InvariantCulture,
                $"{h.Agreement:0.00} {h.Standing:0.00} jumps {h.FormChanges.Count} bars {h.FormChanges.Sum(c => c.Bars)} of "
                    + $"{h.Bars.Count} key {h.Semitones} tempo {h.Tempo:0.0} {h.Matches}");
        Console.WriteLine($"own chart with six wrong chords:\n{string.Join('\n', same.Order())}\nchart of another "
            + $"song:\n{string.Join('\n', other.Order())}");
        return 0;
    }

    private static void One(int seed, BandSong.Kind kind, string folder, Tally tally, bool say)
    {
        var song = new BandSong(seed, kind);
        var sound = song.Render(folder);
        var (text, wrong) = song.WithWrongChords(2);
        var chart = ChartReader.Read(text).Chart;
        var clock = Stopwatch.StartNew();
        var heard = Ear.Listen(sound, chart);
        tally.Seconds.Add(clock.Elapsed.TotalSeconds);
        tally.Songs++;
        if (heard.Semitones == kind.Semitones) tally.Keys++;
        var tempo = 60 * song.Played.Count * song.Meter / (song.Played[^1].End - song.Played[0].Start);
        if (Math.Abs(heard.Tempo / tempo - 1) < 0.02) tally.Tempos++;
        if (!heard.Matches) tally.Unmatched++;
        foreach (var played in song.Played)
        {
            var nearest = heard.Bars.Where(b => b.Section == played.Section && b.Bar == played.Bar)
                .Select(b => Math.Abs(b.Start - played.Start)).DefaultIfEmpty(9).Min();
            tally.Off.Add(nearest);
        }
        var lines = new List<string>();
        foreach (var place in heard.Places)
        {
            var truth = song.Chart.Sections[place.Section].Bars[place.Bar].Slots[place.Slot].Chord!;
            var isWrong = wrong.Exists(w => (w.Section, w.Bar, w.Slot) == (place.Section, place.Bar, place.Slot));
            var triad = HeardChord.TriadOf(truth, 0) == HeardChord.TriadOf(place.Heard, 0);
            tally.Places++;
            if (triad) tally.Triads++;
            if (isWrong)
            {
                tally.Wrong++;
                if (!place.Agrees) { tally.Found++; if (triad) tally.Named++; }
            }
            else
            {
                tally.Right++;
                if (!place.Agrees) tally.False++;
            }
            if (isWrong != !place.Agrees || !triad)
                lines.Add(string.Create(CultureInfo.InvariantCulture,
                    $"   {chart.Sections[place.Section].Name} {place.Bar + 1}.{place.Slot + 1} written {place.Written} truth "
                        + $"{truth} heard {place.Heard} agrees {place.Agrees} {place.Certainty:0.00} passes "
                        + $"{string.Join(' ', place.Passes.Select(p => p.Heard.Name))} notes "
                        + $"{string.Join(' ', place.Notes.Select((x, i) => (x, i)).Where(x => x.x > 0.2).OrderByDescending(x => x.x).Select(x => $"{new[] { "C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B" }[x.i]}{x.x:0.0}"))}"));
        }
        if (say)
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{song} {kind}: key {heard.Semitones} tempo {heard.Tempo:0.0} ({tempo:0.0}) cents {heard.Cents:0} agreement "
                    + $"{heard.Agreement:0.00} form "
                    + $"{string.Join(' ', heard.FormChanges.Select(c => $"{c.Kind} {chart.Sections[c.Section].Name} {c.Bars}"))} "
                    + $"{clock.Elapsed.TotalSeconds:0.0} s"));
            foreach (var line in lines) Console.WriteLine(line);
        }
    }
}
