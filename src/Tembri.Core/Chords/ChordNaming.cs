using Tembri.Core.Music;

namespace Tembri.Core.Chords;

/// <summary>Gives chords the names a studio uses; see <see cref="NoteNaming"/>.</summary>
public static class ChordNaming
{
    /// <summary>A chord with root and bass under the names in use.</summary>
    public static Chord Named(this Chord chord, NoteNames names)
    {
        var (root, bass) = (chord.Root.Named(names), chord.Bass?.Named(names));
        return root == chord.Root && bass == chord.Bass ? chord : new Chord(root, chord.Kind, chord.Degrees, bass);
    }
}
