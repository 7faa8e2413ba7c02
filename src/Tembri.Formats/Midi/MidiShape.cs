using System.Buffers.Binary;

namespace Tembri.Formats.Midi;

/// <summary>Walks over a Standard MIDI file event by event before anything is kept of it: lengths must lie within the file, and
/// there is an end to the number of events.</summary>
/// <remarks>Standard MIDI Files 1.0 (MIDI Manufacturers Association, 1996). A length of four bytes can ask for 256 MB, so none
/// is believed.</remarks>
internal static class MidiShape
{
    private const int MostEvents = 500_000;
    private const int HeaderLength = 14;

    /// <exception cref="FormatException">The file breaks off, or a length reaches beyond it.</exception>
    public static void Check(ReadOnlySpan<byte> file)
    {
        if (file.Length < HeaderLength || BinaryPrimitives.ReadUInt32BigEndian(file[4..]) != 6) throw Damaged();
        if (BinaryPrimitives.ReadInt16BigEndian(file[12..]) <= 0)
            throw new FormatException("This MIDI file counts in film frames instead of beats; save it with beats.");
        var (at, events) = (HeaderLength, 0);
        while (at < file.Length)
        {
            if (file.Length - at < 8) throw Damaged();
            var length = BinaryPrimitives.ReadUInt32BigEndian(file[(at + 4)..]);
            if (length > file.Length - at - 8) throw Damaged();
            if (file.Slice(at, 4).SequenceEqual("MTrk"u8)) CheckTrack(file.Slice(at + 8, (int)length), ref events);
            at += 8 + (int)length;
        }
    }

    private static void CheckTrack(ReadOnlySpan<byte> track, ref int events)
    {
        var running = 0;
        for (var at = 0; at < track.Length;)
        {
            if (++events > MostEvents)
                throw new FormatException($"This MIDI file has more than {MostEvents:N0} events, which no song does.");
            VariableLength(track, ref at);   // the time since the event before
            if (at >= track.Length) throw Damaged();
            int status = track[at] < 0x80 ? running : track[at++];
            if (status < 0x80) throw Damaged();
            if (status == 0xFF) at++;        // the kind of a meta event
            var length = status switch
            {
                0xFF or 0xF0 or 0xF7 => VariableLength(track, ref at),
                >= 0xC0 and < 0xE0 => 1,
                < 0xF0 => 2,
                _ => 0,
            };
            if (status < 0xF0) running = status;
            if (length > track.Length - at) throw Damaged();
            at += length;
        }
    }

    private static int VariableLength(ReadOnlySpan<byte> track, ref int at)
    {
        var value = 0;
        for (var i = 0; i < 4; i++)
        {
            if (at >= track.Length) throw Damaged();
            var part = track[at++];
            value = value << 7 | part & 0x7F;
            if (part < 0x80) return value;
        }
        throw Damaged();
    }

    private static FormatException Damaged() =>
        new("This MIDI file breaks off or is damaged; save it again in the program it comes from.");
}
