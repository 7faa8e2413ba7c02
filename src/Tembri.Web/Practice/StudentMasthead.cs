namespace Tembri.Web.Practice;

/// <summary>The pages of a student.</summary>
internal enum StudentTab { Skills, Practice, Road, Log, Meeting, Records }

/// <summary>The head of every page of a student.</summary>
/// <param name="Tab">The page it stands on.</param>
/// <param name="Id">The student.</param>
/// <param name="Nickname">The nickname.</param>
/// <param name="Sentence">What the page is about, in a few words.</param>
internal sealed record StudentMasthead(StudentTab Tab, Guid Id, string Nickname, string Sentence);
