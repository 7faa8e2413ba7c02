namespace Tembri.Web.Songs;

/// <summary>The pages of a song.</summary>
internal enum SongTab { Chart, Record, Ladder, Places, Changes, RightHand, Listen, Sheet, Class, Files }

/// <summary>The head of every page of a song: its title and its tabs; the student and the rung stay chosen from tab to
/// tab.</summary>
/// <param name="Tab">The page it stands on.</param>
/// <param name="Song">The song.</param>
/// <param name="Title">Its title.</param>
/// <param name="Student">For whom, when somebody is chosen.</param>
/// <param name="Rung">The version that is looked at.</param>
/// <param name="Sentence">What this page is about, in a few words.</param>
/// <param name="Part">A partial that says it instead, with its model, where words alone do not do.</param>
internal sealed record SongMasthead(SongTab Tab, Guid Song, string Title, Guid? Student = null, int? Rung = null,
    string? Sentence = null, (string Name, object Model)? Part = null);
