using Tembri.Core.Charts.Reading;
using System.Globalization;
using System.Text;
using CsCheck;
using Tembri.Core.Music;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Data.Students;
using Tembri.Web.Drawings;
using Tembri.Web.Practice;
using Tembri.Web.Words;

namespace Tembri.Web.Tests;

/// <summary>Entries of a log without a server: what is believed of what is sent, tables out and in, the words and the
/// curves.</summary>
public sealed class EntryTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 26, 12, 0, 0, TimeSpan.Zero);
    private static readonly int[] C = [-1, 3, 2, 0, 1, 0], G = [3, 2, 0, 0, 0, 3];

    private static Gen<T> OneOf<T>(params IReadOnlyList<T> values) => Gen.Int[0, values.Count - 1].Select(i => values[i]);

    private static readonly Gen<int?> Number =
        Gen.OneOf<int?>(Gen.Const((int?)null), Gen.Int[-5, 500].Select(i => (int?)i), Gen.Int.Select(i => (int?)i));
    private static readonly Gen<string?> Text = Gen.OneOf(Gen.Const((string?)null), Gen.String[0, 30].Select(s => (string?)s),
        Gen.String[400, 700].Select(s => (string?)s),
        OneOf<string?>("D-du-udu", "4/4", "0000004/4", "steel", "{\"preset\":\"steel\"}", "=1+1", "note"));
    private static readonly Gen<EntryShape?> Side = Gen.OneOf<EntryShape?>(Gen.Const((EntryShape?)null),
        Gen.Int[-3, 30].Array[0, 9].Select(f => (EntryShape?)new EntryShape(f, f)),
        OneOf<EntryShape?>(new(C, null), new(G, [3, 2, 0, 0, 0, 4]), new(null, null)));
    private static readonly Gen<string?> Kind =
        OneOf<string?>("note", "changes", "clean", "shape", "strum", "time", "Time", "0", "dance", "", null);

    private static readonly Gen<NewEntry> Anything = Gen.Select(
        Gen.Select(Kind, Text, Text, Text, Text), Gen.Select(Number, Number, Number, Number),
        Gen.Select(Number, Number, Number, Number), Gen.Select(Side, Side),
        Gen.Select(Gen.DateTime, Gen.Bool, Gen.Double[-200, 200]))
        .Select((words, first, second, sides, rest) => new NewEntry
        {
            Kind = words.Item1, Text = words.Item2, Pattern = words.Item3, Meter = words.Item4, Guitar = words.Item5,
            Rung = first.Item1, Tempo = first.Item2, Count = first.Item3, Seconds = first.Item4,
            Tries = second.Item1, Minutes = second.Item2, Felt = second.Item3, Capo = second.Item4, From = sides.Item1,
            To = sides.Item2, At = rest.Item2 ? null : new DateTimeOffset(rest.Item1.Ticks, TimeSpan.Zero), Went = rest.Item2,
            FreeBeats = rest.Item3, Swing = first.Item1,
        });

    [Fact]
    public void Whatever_is_sent_becomes_a_row_that_can_be_stored_and_read_or_a_sentence()
    {
        var reader = new EntryEvidence(new Student { Nickname = "Fern", HandId = "medium", GuitarId = "steel" });
        Anything.Sample(sent =>
        {
            var row = EntryCheck.Make(sent, Now, out var fault);
            if (row is null)
                return fault is { Length: > 10 } && (char.IsUpper(fault[0]) || char.IsDigit(fault[0]) || fault[0] == '-')
                    && fault.EndsWith('.');
            // Within what the columns hold, and nothing of another kind in it.
            Assert.Null(fault);
            Assert.True(row.Text.Length <= PracticeEntry.LongestText
                && (row.Pattern?.Length ?? 0) <= PracticeEntry.LongestPattern
                && (row.Meter?.Length ?? 0) <= PracticeEntry.LongestMeter
                && (row.Guitar?.Length ?? 0) <= PracticeEntry.LongestGuitar);
            Assert.DoesNotContain('\0', row.Text);
            Assert.True(row.At <= Now.AddMinutes(10) && row.At >= Now.AddDays(-3660));
            Assert.True(row.Felt is null or (>= 1 and <= 5) && row.Minutes is null or (>= 0 and <= 600)
                && row.Tempo is null or (>= 20 and <= 320));
            if (row.Kind != PracticeKind.Changes) Assert.Null(row.Seconds);
            if (row.Kind == PracticeKind.Changes)
                Assert.True(row.Count <= 200 * row.Seconds / 60.0 && row.FromFrets is not null && row.ToFrets is not null);
            if (row.Kind == PracticeKind.Shape) Assert.True(row.Count <= row.Tries && row.ToFrets is not null);
            Assert.False(
                string.IsNullOrEmpty(EntryWords.Say(row, CultureInfo.InvariantCulture)) && row.Kind is not PracticeKind.Note);
            // And learnt from without a fault, within the scale.
            if (reader.Of(row) is { } evidence)
            {
                var belief = SkillLearning.Replay(new Skills(), [evidence]).Belief;
                Assert.All(Enum.GetValues<Technique>(), t => Assert.InRange(belief.Mean(t), 0, 100));
                Assert.All(Enum.GetValues<Technique>(), t => Assert.InRange(belief.Deviation(t), 0.1, 18.001));
            }
            return true;
        }, iter: 3000);
    }

    [Fact]
    public void A_table_reads_back_what_was_written_whatever_stands_in_its_words()
    {
        var song = Guid.NewGuid();
        var rows = Gen.Select(Gen.String[0, 60], Gen.Int[0, 150], Gen.Int[10, 600], Gen.Bool, Gen.Int[0, 100_000])
            .Select((text, count, seconds, hurt, minute) => EntryCheck.Make(new NewEntry
        {
            Key = Guid.NewGuid(), Kind = "changes", At = Now.AddMinutes(-minute), Text = text, From = new EntryShape(C, null),
            To = new EntryShape(G, [3, 2, 0, 0, 0, 4]), Count = Math.Min(count, seconds * 3), Seconds = seconds, Hurt = hurt,
            Capo = count % 8, Song = song, Rung = 3, Felt = 1 + count % 5,
        }, Now, out _)!);
        rows.Array[0, 12].Sample(entries =>
        {
            var bytes = LogTable.Write(entries, new Dictionary<Guid, string> { [song] = "Low, \"Bridge\"" });
            var (read, faults) = LogTable.Read(bytes, new[] { ("Low, \"Bridge\"", song) }.ToLookup(s => s.Item1, s => s.song));
            Assert.Empty(faults);
            Assert.Equal(entries.Length, read.Count);
            foreach (var (entry, (line, back)) in entries.Zip(read))
            {
                var row = EntryCheck.Make(back, Now, out var fault);
                Assert.True(row is not null, fault);
                Assert.Equal((entry.Text, entry.At, entry.Count, entry.Seconds, entry.Hurt, entry.Capo, entry.SongId, entry.Rung,
                        entry.Felt, entry.RequestKey),
                    (row!.Text, row.At, row.Count, row.Seconds, row.Hurt, row.Capo, row.SongId, row.Rung, row.Felt,
                        row.RequestKey));
                Assert.Equal(entry.FromFrets!, row.FromFrets!);
                Assert.Equal(entry.ToFingers!, row.ToFingers!);
                Assert.True(line > 1);
            }
            // No field begins as a formula does: such a text has a mark before it in the file.
            var text = Encoding.UTF8.GetString(bytes);
            Assert.All(entries.Where(e => e.Text is ['=' or '@' or '+' or '-', ..]),
                e => Assert.Contains($"'{e.Text[0]}", text, StringComparison.Ordinal));
        }, iter: 200);
    }

    [Fact]
    public void No_bytes_break_the_reader_of_tables()
    {
        var none = Array.Empty<(string, Guid)>().ToLookup(s => s.Item1, s => s.Item2);
        var pieces = OneOf("at", "kind", ",", ";", "\t", "\n", "\r\n", "\"", "\"\"", "note", "changes", "2026-01-05", "x32010",
            "\0", "\uFEFF", "é", "=1", "999999999999");
        pieces.Array[0, 60].Select(p => "at,kind,text,from,to,count\n" + string.Concat(p)).Sample(text =>
        {
            var (rows, faults) = LogTable.Read(Encoding.UTF8.GetBytes(text), none);
            return rows.Count + faults.Count <= 100 && faults.All(f => f.Number >= 1 && f.Fault.Length > 10);
        }, iter: 2000);
        Gen.Byte.Array[0, 200].Sample(bytes => LogTable.Read(bytes, none).Rows.Count >= 0, iter: 2000);
    }

    [Fact]
    public void Every_reason_and_every_step_has_words()
    {
        var demo = Directory.EnumerateFiles(Path.Combine(TestServer.Folder, "demo", "songs"), "*.txt")
            .Order(StringComparer.Ordinal).Take(4)
            .Select(f => Core.Charts.Reading.ChartReader.Read(File.ReadAllText(f)).Chart).ToList();
        var items = 0;
        foreach (var (chart, skill) in demo.SelectMany(c => new[] { 15, 40, 70 }.Select(s => (c, s))))
        {
            var player = new Player { Skills = Skills.Each(_ => skill) };
            var ladder = new Core.Ladders.LadderBuilder(new Core.ResultCache())
                .Build(new Core.Ladders.ArrangementRequest
                {
                    Chart = chart, Kind = player.Kind, Capo = chart.RecordCapo, HighestCapo = chart.RecordCapo
                });
            var graded = new StudentLadder(ladder, player);
            foreach (var rung in ladder.Playable)
            {
                var song = new PlanSong("song", chart.Title, rung, graded.FitOf(rung)!);
                foreach (var item in PracticePlan.Make(new PlanRequest
                {
                    Songs = [song], Skills = player.Skills, MinutesADay = 30, From = new DateOnly(2026, 11, 2), Days = 3,
                    Wishes = new PlanWishes { Own = [new OwnItem("a", "hum", 2)] }
                }).SelectMany(d => d.Items))
                {
                    items++;
                    Assert.True(PlanWords.Title(item, NoteNames.AsKey).Length > 2, item.Key);
                    Assert.EndsWith(".", PlanWords.Why(item), StringComparison.Ordinal);
                    Assert.True(item.Kind == PlanKind.Own || PlanWords.Do(item).EndsWith('.'), item.Key);
                }
                foreach (var evidence in new[] { (0, 0), (3, 0), (5, 2) })
                    foreach (var hurts in new[] { false, true })
                        Assert.Contains($"rung {rung.Limits.Label}",
                            StepWords.Say(StepAdvice.Of(graded, rung.Number,
                                        new StepAdvice.Evidence(evidence.Item1, evidence.Item2), hurts, evidence.Item1 == 5),
                                    rung, NoteNames.AsKey)
                                .Replace("something hurts: ", $"rung {rung.Limits.Label}: ", StringComparison.Ordinal),
                            StringComparison.Ordinal);
            }
        }
        Assert.True(items > 200, $"{items}");
        Assert.All(Enum.GetValues<Technique>(), t => Assert.NotEqual(PracticeWords.Name(t), PracticeWords.Heading(t)));
        Assert.Equal(Enum.GetValues<Technique>().Length,
            Enum.GetValues<Technique>().Select(PracticeWords.Heading).Distinct().Count());
    }

    [Fact]
    public void A_step_is_said_with_tenths_where_whole_points_would_hide_it()
    {
        Assert.Equal("changing 41 → 44", PracticeWords.Say(new SkillMove(Technique.Changes, 41.2, 44.3)));
        Assert.Equal("muting 30.1 → 30.4", PracticeWords.Say(new SkillMove(Technique.Muting, 30.1, 30.4)));
        Assert.Equal("31 clean C to G: changing 41 → 44, because 24 were expected",
            PracticeWords.Why("31 clean C to G", new SkillStep(0, 24.1, 31, 0.9, [new(Technique.Changes, 41, 44)])));
        Assert.Equal("nothing new: 9.8 were expected", PracticeWords.Told(new SkillStep(0, 9.8, 10, null, [])));
        Assert.Equal("C", PracticeWords.NameOf(Shape.Parse("x32010")));
    }

    [Fact]
    public void Curves_stay_within_their_frame_and_their_names_do_not_meet()
    {
        Gen.Select(Gen.Int[0, 400], Gen.Double[0, 300]).Array[1, 40].Array[1, 3].Sample(lines =>
        {
            var scene = ProgressDrawing.Draw([.. lines.Select((l, i) => new ProgressLine($"line {i}",
                    [.. l.OrderByDescending(p => p.Item1).Select(p => (Now.AddDays(-p.Item1), p.Item2))]))], "things");
            foreach (var disc in scene.Marks.OfType<Disc>())
                Assert.True(disc.X >= 0 && disc.X <= scene.Width && disc.Y >= -0.001 && disc.Y <= scene.Height, $"{disc}");
            var names = scene.Marks.OfType<Label>().Where(l => l.Text.StartsWith("line ", StringComparison.Ordinal))
                .OrderBy(l => l.Y).ToList();
            Assert.Equal(lines.Length, names.Count);
            Assert.All(names.Zip(names.Skip(1)), p => Assert.True(p.Second.Y - p.First.Y >= 16.9));
            // The higher the value, the higher the point.
            var discs = scene.Marks.OfType<Disc>().Take(lines[0].Length).ToList();
            var values = lines[0].OrderByDescending(p => p.Item1).Select(p => p.Item2).ToList();
            for (var i = 0; i < discs.Count; i++)
                for (var j = 0; j < discs.Count; j++) if (values[i] > values[j]) Assert.True(discs[i].Y <= discs[j].Y + 1e-9);
        }, iter: 200);
        Assert.Empty(ProgressDrawing.Draw([], "things").Marks);
    }
}
