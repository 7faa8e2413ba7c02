namespace Tembri.Core.Charts;

/// <summary>What part a section plays in a song.</summary>
public enum SectionKind
{
    /// <summary>A part with a name of its own.</summary>
    Own,
    /// <summary>Before the song proper.</summary>
    Intro,
    /// <summary>Verse.</summary>
    Verse,
    /// <summary>Leads to the chorus.</summary>
    PreChorus,
    /// <summary>Chorus.</summary>
    Chorus,
    /// <summary>Comes out of the chorus.</summary>
    PostChorus,
    /// <summary>Bridge.</summary>
    Bridge,
    /// <summary>Interlude.</summary>
    Interlude,
    /// <summary>Solo.</summary>
    Solo,
    /// <summary>The end.</summary>
    Outro,
}
