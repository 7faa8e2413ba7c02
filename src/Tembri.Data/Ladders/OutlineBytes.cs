using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Data.Ladders;

/// <summary>Outlines as they are stored: short, and quick to read by the thousand. They are never kept beyond the model that
/// made them, so the form may change with it.</summary>
public static class OutlineBytes
{
    /// <summary>Writes outlines.</summary>
    public static byte[] Write(LadderOutline outline)
    {
        using var bytes = new MemoryStream(1_024);
        using var writer = new BinaryWriter(bytes);
        writer.Write((byte)outline.Capo);
        writer.Write((byte)outline.Rungs.Count);
        foreach (var (rung, number) in outline.Rungs.Zip(outline.Numbers))
        {
            writer.Write((byte)number);
            writer.Write(rung is not null);
            if (rung is not null) Write(writer, rung);
        }
        writer.Flush();
        return bytes.ToArray();
    }

    /// <summary>Reads what <see cref="Write(LadderOutline)"/> wrote; null when the bytes are something else, so that they are
    /// made anew.</summary>
    /// <param name="bytes">The bytes.</param>
    /// <param name="pool">What outlines have in common.</param>
    public static LadderOutline? Read(byte[] bytes, OutlinePool pool)
    {
        try
        {
            using var reader = new BinaryReader(new MemoryStream(bytes, writable: false));
            var capo = reader.ReadByte();
            var rungs = new VersionOutline?[reader.ReadByte()];
            var numbers = new int[rungs.Length];
            for (var i = 0; i < rungs.Length; i++)
                (numbers[i], rungs[i]) = (reader.ReadByte(), reader.ReadBoolean() ? Read(reader, pool) : null);
            return reader.BaseStream.Position == bytes.Length ? new LadderOutline(capo, rungs, numbers) : null;
        }
        catch (Exception e) when (e is IOException or FormatException or ArgumentException or KeyNotFoundException)
        {
            return null;
        }
    }

    private static void Write(BinaryWriter writer, VersionOutline rung)
    {
        writer.Write(rung.Tempo);
        writer.Write(rung.Hand.BeatsAStroke);
        writer.Write((byte)rung.Hand.Patterns.Count);
        foreach (var (effort, share) in rung.Hand.Patterns)
        {
            writer.Write(share);
            writer.Write(effort.Fixed);
            writer.Write((byte)effort.Movements.Count);
            foreach (var (parts, aBeat) in effort.Movements)
            {
                writer.Write((byte)parts);
                writer.Write(aBeat);
            }
        }
        writer.Write((ushort)rung.Chords.Count);
        foreach (var chord in rung.Chords)
        {
            writer.Write(chord.Name);
            writer.Write(chord.Beats);
            writer.Write(chord.SpellBeats);
            writer.Write((byte)(chord.Shape?.StringCount ?? 0));
            if (chord.Shape is { } shape) foreach (var fret in shape.Frets) writer.Write((sbyte)fret);
            writer.Write((byte)chord.Demands.Count);
            foreach (var demand in chord.Demands)
            {
                writer.Write((byte)demand.Technique);
                writer.Write(demand.Points);
            }
        }
        writer.Write((ushort)rung.Changes.Count);
        foreach (var change in rung.Changes)
        {
            writer.Write((ushort)change.From);
            writer.Write((ushort)change.To);
            writer.Write(change.Count);
            writer.Write(change.Seconds);
            writer.Write(change.IsTimed);
            writer.Write(change.FreeBeats);
        }
    }

    private static VersionOutline Read(BinaryReader reader, OutlinePool pool)
    {
        var (tempo, stroke) = (reader.ReadDouble(), reader.ReadDouble());
        var patterns = new (StrumEffort, double)[reader.ReadByte()];
        for (var i = 0; i < patterns.Length; i++)
        {
            var (share, always) = (reader.ReadDouble(), reader.ReadDouble());
            var movements = new (int, double)[reader.ReadByte()];
            for (var m = 0; m < movements.Length; m++) movements[m] = (reader.ReadByte(), reader.ReadDouble());
            patterns[i] = (new StrumEffort { Fixed = always, Movements = movements }, share);
        }
        var chords = new OutlinedChord[reader.ReadUInt16()];
        for (var i = 0; i < chords.Length; i++)
        {
            var (name, beats, spellBeats) = (pool.Once(reader.ReadString()), reader.ReadDouble(), reader.ReadDouble());
            var frets = new int[reader.ReadByte()];
            for (var s = 0; s < frets.Length; s++) frets[s] = reader.ReadSByte();
            var demands = new Demand[reader.ReadByte()];
            for (var d = 0; d < demands.Length; d++) demands[d] = new Demand((Technique)reader.ReadByte(), reader.ReadDouble());
            chords[i] = new OutlinedChord(name, beats, spellBeats, pool.Once(Demands.Of(demands)),
                frets.Length == 0 ? null : pool.Once(new Shape(frets)));
        }
        var changes = new OutlinedChange[reader.ReadUInt16()];
        for (var i = 0; i < changes.Length; i++)
            changes[i] = new OutlinedChange(
                reader.ReadUInt16(), reader.ReadUInt16(), reader.ReadInt32(), reader.ReadDouble(), reader.ReadBoolean(),
                reader.ReadDouble());
        return new VersionOutline(tempo, new OutlinedHand(stroke, patterns), chords, changes);
    }
}
