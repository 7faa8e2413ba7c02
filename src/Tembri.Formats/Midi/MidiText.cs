using System.Text;
using NAudio.Midi;

namespace Tembri.Formats.Midi;

/// <summary>Texts of MIDI files. The standard names no encoding; UTF-8 is written, and what is no UTF-8 is read as Windows
/// Latin.</summary>
internal static class MidiText
{
    /// <summary>The text of an event, in one line.</summary>
    public static string Read(TextEvent item) => ChartFiles.Decode(item.Data).Trim('\0', ' ', '\t', '\r', '\n');

    /// <summary>An event with a text.</summary>
    public static TextEvent Write(string text, MetaEventType type, long at) =>
        new(text, type, at) { Data = Encoding.UTF8.GetBytes(text) };
}
