using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;

namespace Tembri.Formats.Tests.Hearing;

/// <summary>Made-up songs played by an independent synthesiser; bench/Tembri.Bench hearing counts over many.</summary>
public class BandTests
{
    [Theory]
    [InlineData(301, "Band", 0, 0, false)]
    [InlineData(905, "Band", 33, -2, true)]
    [InlineData(412, "Guitar", -20, 3, false)]
    public void Wrong_chords_are_found_and_right_ones_left_alone(int seed, string mix, double cents, int semitones, bool hard)
    {
        var folder = Directory.CreateTempSubdirectory().FullName;
        try
        {
            var song = new BandSong(seed,
                new(cents, semitones, hard ? 0.06 : 0.008, hard ? 20 : null, hard, Enum.Parse<BandSong.Mix>(mix),
                    OtherForm: hard));
            var sound = song.Render(folder);
            var (text, wrong) = song.WithWrongChords(3);
            var heard = Ear.Listen(sound, ChartReader.Read(text).Chart);
            Assert.True(heard.Matches);
            Assert.Equal(semitones, heard.Semitones);
            Assert.Equal(cents, heard.Cents, 8.0);
            var tempo = 60 * song.Played.Count * song.Meter / (song.Played[^1].End - song.Played[0].Start);
            Assert.Equal(tempo, heard.Tempo, tempo * 0.02);
            var off = song.Played.Select(p => heard.Bars.Where(b => (b.Section, b.Bar) == (p.Section, p.Bar))
                    .Select(b => Math.Abs(b.Start - p.Start)).DefaultIfEmpty(9).Min()).Order().ToList();
            Assert.True(off[(int)(0.9 * off.Count)] < 0.12, $"bars are {off[(int)(0.9 * off.Count)]:0.00} s off");
            var found = heard.Places.Where(p => !p.Agrees).Select(p => (p.Section, p.Bar, p.Slot)).ToList();
            var misses = wrong.Select(w => (w.Section, w.Bar, w.Slot)).Except(found).Count();
            var alarms = found.Except(wrong.Select(w => (w.Section, w.Bar, w.Slot))).Count();
            Assert.True(misses == 0 && alarms <= 1, $"{misses} of {wrong.Count} not found, {alarms} false alarms");
            Assert.Equal(hard, heard.FormChanges.Any(c => c.Kind == FormChangeKind.More && c.Bars >= 6));
        }
        finally { Directory.Delete(folder, true); }
    }

    [Fact]
    public void Wave_files_of_every_kind_hold_the_same_sound()
    {
        var tone = Enumerable.Range(0, 56_000).Select(i => 0.5 * Math.Sin(2 * Math.PI * 440 * i / 8000)).ToArray();
        foreach (var (bits, floating, channels) in new[]
        {
            (8, false, 1), (16, false, 2), (24, false, 1), (32, false, 2), (32, true, 1), (32, true, 2)
        })
        {
            var sound = WavFiles.Read(new MemoryStream(Wave(tone, bits, floating, channels)));
            Assert.Equal((8000, tone.Length), (sound.Rate, sound.Samples.Length));
            for (var i = 0; i < tone.Length; i++) Assert.Equal(tone[i], sound.Samples[i], bits == 8 ? 0.01 : 0.0001);
        }
    }

    [Fact]
    public void What_is_no_wave_file_is_said_to_be_none_wherever_it_is_cut()
    {
        var whole = Wave([.. Enumerable.Range(0, 60_000).Select(i => Math.Sin(i))], 16, false, 2);
        var random = new Random(3);
        for (var i = 0; i < 600; i++)
        {
            var bytes = whole[..(random.Next(2) == 0 ? random.Next(200) : random.Next(whole.Length))];
            for (var b = 0; b < 3 && bytes.Length > 0; b++)
                bytes[random.Next(Math.Min(60, bytes.Length))] = (byte)random.Next(256);
            try { Assert.InRange(WavFiles.Read(new MemoryStream(bytes)).Samples.Length, 0, whole.Length); }
            catch (Exception e) when (e is FormatException or HearingRefusedException) { Assert.NotEmpty(e.Message); }
        }
    }

    private static byte[] Wave(double[] samples, int bits, bool floating, int channels)
    {
        using var bytes = new MemoryStream();
        using var writer = new BinaryWriter(bytes);
        var size = samples.Length * channels * bits / 8;
        writer.Write("RIFF"u8);
        writer.Write(36 + size);
        writer.Write("WAVEfmt "u8);
        writer.Write(16);
        writer.Write((short)(floating ? 3 : 1));
        writer.Write((short)channels);
        writer.Write(8000);
        writer.Write(8000 * channels * bits / 8);
        writer.Write((short)(channels * bits / 8));
        writer.Write((short)bits);
        writer.Write("data"u8);
        writer.Write(size);
        foreach (var sample in samples)
            for (var c = 0; c < channels; c++)
                switch (bits, floating)
                {
                    case (8, _): writer.Write((byte)(128 + Math.Round(sample * 127))); break;
                    case (16, _): writer.Write((short)Math.Round(sample * 32767)); break;
                    case (24, _):
                        var whole = (int)Math.Round(sample * 8388607);
                        writer.Write((byte)whole); writer.Write((byte)(whole >> 8)); writer.Write((byte)(whole >> 16)); break;
                    case (32, false): writer.Write((int)Math.Round(sample * int.MaxValue)); break;
                    default: writer.Write((float)sample); break;
                }
        return bytes.ToArray();
    }
}
