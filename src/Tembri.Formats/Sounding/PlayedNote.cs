namespace Tembri.Formats.Sounding;

/// <summary>A note as a file has it played.</summary>
/// <param name="From">When it begins, in ticks.</param>
/// <param name="To">When it ends.</param>
/// <param name="Pitch">A MIDI number.</param>
/// <param name="Track">The track or part it belongs to.</param>
/// <param name="Channel">The channel within it.</param>
internal sealed record PlayedNote(long From, long To, int Pitch, int Track, int Channel);
