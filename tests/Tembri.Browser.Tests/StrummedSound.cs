using System.Diagnostics;
using NAudio.Midi;

namespace Tembri.Browser.Tests;

/// <summary>A strum as it is played.</summary>
/// <param name="At">Seconds.</param>
/// <param name="Pitches">MIDI numbers of the strings that sound, the lowest first.</param>
/// <param name="Muffled">True when the hand lies on the strings.</param>
internal readonly record struct PlayedStrum(double At, IReadOnlyList<int> Pitches, bool Muffled);

/// <summary>A guitar that is strummed, played by an independent synthesiser.</summary>
internal static class StrummedSound
{
    public const int SampleRate = 48_000, Nylon = 24, Steel = 25, Electric = 27;
    private const int Damped = 28;
    private const int Ticks = 480;   // a beat of half a second

    /// <summary>Strums of two shapes in turn, some of them muffled.</summary>
    public static List<PlayedStrum> InTurn(IReadOnlyList<int> first, IReadOnlyList<int> second, int count, double perMinute,
        double from, Random random, params int[] muffled)
    {
        var (at, strums) = (from, new List<PlayedStrum>());
        for (var i = 0; i < count; i++, at += 60 / perMinute * (0.92 + 0.16 * random.NextDouble()))
            strums.Add(new(at, i % 2 == 0 ? first : second, muffled.Contains(i)));
        return strums;
    }

    /// <summary>Writes the sound as a WAV file.</summary>
    public static void Render(IReadOnlyList<PlayedStrum> strums, int guitar, double cents, string path, Random random)
    {
        var events = new MidiEventCollection(1, Ticks);
        events.AddEvent(new PatchChangeEvent(0, 1, guitar), 1);
        events.AddEvent(new PitchWheelChangeEvent(0, 1, 8192 + (int)Math.Round(cents / 200 * 8192)), 1);
        for (var i = 0; i < strums.Count; i++)
        {
            var (strum, next) = (strums[i], i + 1 < strums.Count ? strums[i + 1].At : strums[i].At + 2);
            var each = 0.006 + 0.008 * random.NextDouble();
            if (strum.Muffled)
            {
                events.AddEvent(new PatchChangeEvent(Tick(strum.At) - 1, 1, Damped), 1);
                events.AddEvent(new PatchChangeEvent(Tick(next) - 20, 1, guitar), 1);
            }
            for (var s = 0; s < strum.Pitches.Count; s++)
            {
                var on = Tick(strum.At + s * each);
                var off = Math.Max(on + 40, Tick(next - 0.03 - 0.05 * random.NextDouble()));
                events.AddEvent(new NoteOnEvent(on, 1, strum.Pitches[s], random.Next(72, 98), (int)(off - on)), 1);
                events.AddEvent(new NoteEvent(off, 1, MidiCommandCode.NoteOff, strum.Pitches[s], 0), 1);
            }
        }
        events.PrepareForExport();
        var midi = path + ".mid";
        MidiFile.Export(midi, events);
        try
        {
            using var process = Process.Start(new ProcessStartInfo("fluidsynth",
                ["-ni", "-q", "-g", "0.5", "-r", $"{SampleRate}", "-F", path, "/usr/share/sounds/sf2/FluidR3_GM.sf2", midi])
            {
                RedirectStandardOutput = true, RedirectStandardError = true
            })!;
            process.WaitForExit();
        }
        finally { File.Delete(midi); }
    }

    private static long Tick(double seconds) => (long)Math.Round(seconds * 2 * Ticks);
}
