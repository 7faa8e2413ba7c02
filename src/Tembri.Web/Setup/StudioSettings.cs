using Microsoft.AspNetCore.Html;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Data.Studios;
using Tembri.Web.Drawings;

namespace Tembri.Web.Setup;

/// <summary>How the studio of this request wants things written; views see it as <c>Studio</c>.</summary>
public sealed class StudioSettings
{
    public NoteNames NoteNames { get; private set; }
    public bool FretsFromNut { get; private set; }

    /// <summary>Tunings of the studio's guitars in semitones against standard.</summary>
    public IReadOnlyList<int> Tunings { get; private set; } = Data.Studios.Studio.UsualTunings;

    /// <summary>How sheets are wanted.</summary>
    internal Sheets.SheetHabits Sheets { get; private set; } = new();

    /// <summary>The studio as it stood when the request came; null before it was read.</summary>
    internal Studio? Studio { get; private set; }

    internal void Take(Studio studio) =>
        (Studio, NoteNames, FretsFromNut, Tunings, Sheets) =
            (studio, studio.NoteNames, studio.FretsFromNut, studio.Tunings, Web.Sheets.SheetHabits.FromJson(studio.Sheets));

    public Chord Named(Chord chord) => chord.Named(NoteNames);

    /// <summary>A chord's name as a page has it.</summary>
    public IHtmlContent Symbol(Chord chord) => new ChordMarkup(Named(chord));

    public Key Named(Key key) => key.Named(NoteNames);

    public string? Named(string? sentence) => sentence is null ? null : NoteNaming.Named(sentence, NoteNames);

    /// <summary>How many frets stand below the first one that is counted, with a capo.</summary>
    public int Below(int capo) => FretsFromNut ? capo : 0;

    /// <summary>What a fret number counts from, to be said wherever a capo is on.</summary>
    public string FretWords(int capo) =>
        capo == 0 ? "" : FretsFromNut ? " Frets are counted from the nut." : " Frets are counted from the capo.";
}
