namespace Tembri.Core.Charts;

/// <summary>A recording of the song that differs from the one taken down.</summary>
/// <param name="Name">Such as live.</param>
/// <param name="Capo">The capo there.</param>
/// <param name="Tuning">The tuning there, in semitones against standard.</param>
/// <param name="Tempo">Its tempo; null for that of the chart.</param>
public sealed record Recording(string Name, int Capo, int Tuning, double? Tempo);
