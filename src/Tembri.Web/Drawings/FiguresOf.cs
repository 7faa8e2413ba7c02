using Tembri.Core.Ladders;

namespace Tembri.Web.Drawings;

/// <summary>The figures of a section as a page shows them.</summary>
/// <param name="Rung">The version.</param>
/// <param name="Section">The section, by its place in the chart.</param>
/// <param name="Below">Semitones added to the frets that are written.</param>
/// <param name="Scale">Screen pixels a unit.</param>
internal sealed record FiguresOf(PlayableRung Rung, int Section, int Below, double Scale);
