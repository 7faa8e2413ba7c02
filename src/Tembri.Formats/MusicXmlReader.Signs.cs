using System.Globalization;
using System.Xml.Linq;
using Tembri.Core.Charts;
using static Tembri.Formats.ScoreXml;

namespace Tembri.Formats;

/// <content>Directions, words, tempo and bar lines: what sends a player elsewhere.</content>
internal sealed partial class MusicXmlReader
{
    private void ReadDirection(XElement direction, ScoreMeasure measure)
    {
        // What the sound says is sure; words and signs are asked only where it says nothing.
        var sure = direction.Elements("sound").Select(JumpOf).Aggregate(ScoreJump.None, (all, j) => all | j);
        measure.Jumps |= sure;
        foreach (var type in direction.Elements("direction-type").Elements())
        {
            var text = type.Value.Trim();
            switch (type.Name.LocalName)
            {
                case "segno" when sure == 0: measure.Jumps |= ScoreJump.Segno; break;
                case "coda" when sure == 0:
                    measure.Jumps |= direction.Descendants("words").Select(w => JumpOf(w.Value))
                            .FirstOrDefault(j => j != 0) is var beside and not 0
                        ? beside
                        : ScoreJump.CodaSign;
                    break;
                case "rehearsal" when text.Length > 0: measure.Section = text; break;
                case "words" when text.Length > 0: ReadWords(direction, measure, text, sure); break;
                case "metronome" when _quarters is null
                    && double.TryParse(type.Element("per-minute")?.Value, NumberStyles.Float, CultureInfo.InvariantCulture,
                        out var minute) && minute is > 0 and < LargestValue:
                    var unit = type.Element("beat-unit")?.Value switch
                    {
                        "whole" => 4,
                        "half" => 2,
                        "eighth" => 0.5,
                        "16th" => 0.25,
                        _ => 1.0
                    };
                    _quarters = minute * unit * (type.Element("beat-unit-dot") is null ? 1 : 1.5);
                    break;
            }
        }
        if (direction.Element("sound") is { } sound) ReadTempo(sound);
    }

    private static void ReadWords(XElement direction, ScoreMeasure measure, string text, ScoreJump sure)
    {
        if (JumpOf(text) is not 0 and var jump)
        {
            if (sure == 0 && !direction.Descendants("coda").Any()) measure.Jumps |= jump;
            if (jump == ScoreJump.Coda) measure.Section ??= text;
        }
        else if (direction.Attribute("placement")?.Value == "below") measure.Lead = (measure.Lead + " " + text).Trim();
        else if (new Section(text, []).Kind != SectionKind.Own && measure.Section is null && text.Length < 30)
            measure.Section = text;
        else measure.Remarks.Add(text.Replace('(', ' ').Replace(')', ' ').Trim());
    }

    /// <summary>What words ask for: "D.S. al Coda", "Da capo", "To Coda", "Fine".</summary>
    private static ScoreJump JumpOf(string words)
    {
        var plain = string.Concat(words.Where(c => char.IsLetter(c) || c == ' ')).Trim().ToUpperInvariant();
        if (plain is "FINE") return ScoreJump.Fine;
        if (plain is "CODA") return ScoreJump.Coda;
        if (plain is "TO CODA" or "AL CODA" or "DA CODA") return ScoreJump.ToCoda;
        if (plain is "SEGNO") return ScoreJump.Segno;
        if (plain is "DS" or "DAL SEGNO" || plain.StartsWith("DS AL ", StringComparison.Ordinal)
            || plain.StartsWith("DAL SEGNO AL ", StringComparison.Ordinal))
            return ScoreJump.DalSegno;
        return plain is "DC" or "DA CAPO" || plain.StartsWith("DC AL ", StringComparison.Ordinal)
                || plain.StartsWith("DA CAPO AL ", StringComparison.Ordinal)
            ? ScoreJump.DaCapo
            : ScoreJump.None;
    }

    private static ScoreJump JumpOf(XElement sound) =>
        (sound.Attribute("segno") is null ? 0 : ScoreJump.Segno) | (sound.Attribute("dalsegno") is null ? 0 : ScoreJump.DalSegno)
            | (sound.Attribute("dacapo")?.Value == "yes" ? ScoreJump.DaCapo : 0)
        | (sound.Attribute("fine") is null ? 0 : ScoreJump.Fine) | (sound.Attribute("tocoda") is null ? 0 : ScoreJump.ToCoda)
        | (sound.Attribute("coda") is null ? 0 : ScoreJump.Coda);

    private void ReadTempo(XElement sound)
    {
        if (_quarters is null
            && double.TryParse(sound.Attribute("tempo")?.Value, NumberStyles.Float, CultureInfo.InvariantCulture, out var tempo)
            && tempo is > 0 and < LargestValue)
            _quarters = tempo;
    }

    private static void ReadBarline(XElement barline, ScoreMeasure measure)
    {
        if (barline.Element("ending") is { } ending)
        {
            if (ending.Attribute("type")?.Value is not "start") measure.EndingStops = true;
            else if ((ending.Attribute("number")?.Value ?? "").Split(',', ' ').Select(Whole).OfType<int>()
                .Where(n => n is >= 1 and <= ChartLimits.MostTimes).ToList() is { Count: > 0 } numbers)
                measure.EndingStart = numbers;
        }
        if (barline.Element("segno") is not null) measure.Jumps |= ScoreJump.Segno;
        if (barline.Element("coda") is not null) measure.Jumps |= ScoreJump.CodaSign;
        if (barline.Element("repeat") is not { } repeat) return;
        if (repeat.Attribute("direction")?.Value == "forward") measure.RepeatFrom = true;
        else
        {
            measure.RepeatTimes = Math.Clamp(Whole(repeat.Attribute("times")?.Value) ?? 2, 1, ChartLimits.MostTimes);
            measure.RepeatsAfterJump = repeat.Attribute("after-jump")?.Value == "yes";
        }
    }
}
