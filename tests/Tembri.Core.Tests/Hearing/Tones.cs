using Tembri.Core.Charts;
using Tembri.Core.Hearing;

namespace Tembri.Core.Tests.Hearing;

/// <summary>Charts played by tones made by formula.</summary>
internal static class Tones
{
    public const int Rate = 22050;

    /// <summary>Chords of plain tones with a few overtones, struck every beat.</summary>
    public static MonoSound Play(Chart chart, double tempo, double cents = 0, int semitones = 0, double before = 0.5)
    {
        var beat = 60 / tempo;
        var bars = chart.PlayedBars().ToList();
        var samples = new float[(int)((before + bars.Sum(b => b.Beats) * beat + 0.6) * Rate)];
        var at = before;
        foreach (var slot in bars.SelectMany(b => b.Slots))
        {
            if (slot.Chord is { } chord)
                for (var b = 0.0; b < slot.Beats; b++)
                {
                    foreach (var midi in chord.PitchClasses.Select(p => 55 + (p + 5) % 12)
                        .Append(36 + chord.BassPitchClass % 12))
                        Tone(samples, midi + semitones + cents / 100, at + b * beat, Math.Min(beat, (slot.Beats - b) * beat));
                }
            at += slot.Beats * beat;
        }
        return new MonoSound(samples, Rate);
    }

    private static void Tone(float[] samples, double midi, double at, double seconds)
    {
        var hertz = 440 * Math.Pow(2, (midi - 69) / 12);
        for (var i = 0; i < seconds * Rate && (int)(at * Rate) + i < samples.Length; i++)
        {
            var t = (double)i / Rate;
            var level = 0.08 * Math.Exp(-2.2 * t) * Math.Min(1, t / 0.004) * Math.Min(1, (seconds - t) / 0.01);
            for (var k = 1; k <= 4; k++)
                samples[(int)(at * Rate) + i] += (float)(level * Math.Pow(0.5, k - 1) * Math.Sin(2 * Math.PI * k * hertz * t));
        }
    }

    /// <summary>The same as a wave file of 16 bits.</summary>
    public static byte[] Wave(MonoSound sound)
    {
        using var bytes = new MemoryStream();
        using var writer = new BinaryWriter(bytes);
        writer.Write("RIFF"u8);
        writer.Write(36 + 2 * sound.Samples.Length);
        writer.Write("WAVEfmt "u8);
        writer.Write(16);
        writer.Write((short)1);
        writer.Write((short)1);
        writer.Write(sound.Rate);
        writer.Write(2 * sound.Rate);
        writer.Write((short)2);
        writer.Write((short)16);
        writer.Write("data"u8);
        writer.Write(2 * sound.Samples.Length);
        foreach (var sample in sound.Samples) writer.Write((short)(32767 * Math.Clamp(sample, -1, 1)));
        return bytes.ToArray();
    }
}
