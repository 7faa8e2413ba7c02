namespace Tembri.Core.Charts;

/// <summary>How much of everything a chart may have. No song comes near these numbers; they keep the work that any text can ask
/// for small.</summary>
/// <remarks>Whatever goes beyond is left out and said at its place; the rest is read.</remarks>
public static class ChartLimits
{
    /// <summary>Characters of a chart's text.</summary>
    public const int LongestText = 200_000;

    /// <summary>Characters of one line.</summary>
    public const int LongestLine = 8_000;

    /// <summary>Sections of a chart.</summary>
    public const int MostSections = 200;

    /// <summary>Bars of a chart, repeats and sections that follow another written out.</summary>
    public const int MostBars = 4_000;

    /// <summary>Bars that the form plays.</summary>
    public const int MostPlayedBars = 4_000;

    /// <summary>Parts of the form.</summary>
    public const int MostFormParts = 100;

    /// <summary>Times a part of the form or a line of bars is played.</summary>
    public const int MostTimes = 20;

    /// <summary>Chords in one bar.</summary>
    public const int MostChordsInBar = 32;

    /// <summary>Dots and chords together in one bar: 24 beats in quarters.</summary>
    public const int MostStepsInBar = 96;

    /// <summary>Notes of the tune in one bar.</summary>
    public const int MostNotesInBar = 96;

    /// <summary>Bars in one written line, for charts that come from elsewhere without lines.</summary>
    public const int MostBarsInLine = 64;

    /// <summary>Other recordings of the song.</summary>
    public const int MostRecordings = 20;

    /// <summary>Lines about the song that Tembri keeps without reading them.</summary>
    public const int MostExtraLines = 500;

    /// <summary>Problems that are listed.</summary>
    public const int MostProblems = 300;

    /// <summary>Different chords of a song that is to be arranged.</summary>
    public const int MostDifferentChords = 48;

    /// <summary>The letters of a name or title that are kept.</summary>
    public const int LongestName = 160;
}
