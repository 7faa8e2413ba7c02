using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Planning;
using Tembri.Web.Words;

namespace Tembri.Web.Practice;

/// <summary>Names what a teacher changed in a plan, also when the plan does not hold it any more.</summary>
internal static class PlanNames
{
    /// <summary>The name of an item.</summary>
    public static string Of(string key, StudentPractice practice, NoteNames names)
    {
        if (practice.Plan.SelectMany(d => d.Items).FirstOrDefault(i => i.Key == key) is { } item)
            return PlanWords.Title(item, names);
        if (practice.Wishes.Own.FirstOrDefault(o => $"own:{o.Id}" == key) is { } own) return own.Text;
        foreach (var song in practice.Songs)
        {
            var rung = song.Rung;
            if (rung.Played.FirstOrDefault(c => PracticeItem.Shape(c.Choice.Fingering.Shape) == key) is { } chord)
                return $"{chord.ShapeChord.Named(names).Name} by itself";
            var changed = rung.Changes.FirstOrDefault(c => PracticeItem.Change(rung.PlayedAs(c.From).Choice.Fingering.Shape,
                    rung.PlayedAs(c.To).Choice.Fingering.Shape) == key);
            if (changed is not null)
                return $"{rung.Chords[changed.From].ShapeChord.Named(names).Name} to "
                    + $"{rung.Chords[changed.To].ShapeChord.Named(names).Name}";
            if (PracticeItem.Form(song.Work.SongId.ToString()) == key) return $"{song.Open.Song.Title}, the whole song";
            for (var s = 0; s < rung.Song.Chart.Sections.Count; s++)
                if (PracticeItem.Section(song.Work.SongId.ToString(), s) == key) return rung.Song.Chart.Sections[s].Name;
        }
        return key.Split(':')[0] switch
        {
            "shape" => $"a shape ({key[6..]})",
            "change" => $"a change ({key[7..]})",
            "strum" => "a strum",
            "figure" => "a figure",
            "section" => "a section",
            _ => "a song"
        };
    }
}
