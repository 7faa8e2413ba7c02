using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Tembri.Core.Charts;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <content>Directions, words, tempo and bar lines: what sends a player elsewhere.</content>
internal sealed partial class MusicXmlReader
{
    /// <summary>What another part says that holds for all of them.</summary>
    private void ReadSigns(XElement element, ScoreMeasure measure)
    {
        foreach (var item in element.Elements())
            switch (item.Name.LocalName)
            {
                case "direction": ReadDirection(item, measure, isOther: true); break;
                case "sound": ReadTempo(item); measure.Jumps |= JumpOf(item); break;
                case "barline": ReadBarline(item, measure); break;
            }
    }

    private void ReadDirection(XElement direction, ScoreMeasure measure, bool isOther = false)
    {
        // What the sound says is sure; words and signs are asked only where it says nothing.
        var sure = direction.Elements("sound").Select(JumpOf).Aggregate(ScoreJump.None, (all, j) => all | j);
        measure.Jumps |= sure;
        // One sentence may be printed in several pieces, each in letters of its own.
        var words = string.Concat(direction.Elements("direction-type").Elements("words").Select(w => w.Value)).Trim();
        if (words.Length > 0) ReadWords(direction, measure, words, sure, isOther);
        foreach (var type in direction.Elements("direction-type").Elements())
        {
            var text = type.Value.Trim();
            switch (type.Name.LocalName)
            {
                case "segno" when sure == 0: measure.Jumps |= ScoreJump.Segno; break;
                case "coda" when sure == 0: measure.Jumps |= JumpOf(words) is not 0 and var beside ? beside : ScoreJump.CodaSign; break;
                case "rehearsal" when text.Length > 0 && !(isOther && measure.Section is not null): measure.Section = text; break;
                case "metronome" when _quarters is null && Minute().Match(type.Element("per-minute")?.Value ?? "") is { Success: true } match
                    && double.TryParse(match.ValueSpan, NumberStyles.Float, CultureInfo.InvariantCulture, out var minute)
                    && minute is > 0 and < LargestValue:
                    var unit = type.Element("beat-unit")?.Value.Trim() switch
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

    private static void ReadWords(XElement direction, ScoreMeasure measure, string text, ScoreJump sure, bool isOther)
    {
        var name = text.Trim('[', ']', '(', ')', ':', ' ');
        if (JumpOf(text) is not 0 and var jump)
        {
            if (sure == 0 && !direction.Descendants("coda").Any()) measure.Jumps |= jump;
            if (jump == ScoreJump.Coda) measure.Section ??= text;
        }
        else if (name.Length is > 0 and < 30 && measure.Section is null && new Section(name, []).Kind != SectionKind.Own)
            measure.Section = name;
        else if (isOther) return;
        else if (direction.Attribute("placement")?.Value == "below") measure.Lead = (measure.Lead + " " + text).Trim();
        else measure.Remarks.Add(text.Replace('(', ' ').Replace(')', ' ').Trim());
    }

    /// <summary>What words ask for: "D.S. al Coda", "Da capo", "To Coda", "Fine".</summary>
    private static ScoreJump JumpOf(string words)
    {
        var plain = string.Concat(words.Where(c => char.IsLetter(c) || c == ' ')).Trim().ToUpperInvariant();
        if (plain.StartsWith("D S", StringComparison.Ordinal) || plain.StartsWith("D C", StringComparison.Ordinal))
            plain = plain.Remove(1, 1);
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
                measure.EndingStart ??= numbers;
        }
        if (barline.Element("segno") is not null) measure.Jumps |= ScoreJump.Segno;
        if (barline.Element("coda") is not null) measure.Jumps |= ScoreJump.CodaSign;
        if (barline.Element("repeat") is not { } repeat) return;
        if (repeat.Attribute("direction")?.Value == "forward") measure.RepeatFrom = true;
        else
        {
            measure.RepeatTimes = Math.Max(measure.RepeatTimes,
                Math.Clamp(Whole(repeat.Attribute("times")?.Value) ?? 2, 1, ChartLimits.MostTimes));
            measure.RepeatsAfterJump |= repeat.Attribute("after-jump")?.Value == "yes";
        }
    }

    /// <summary>A number of beats a minute, also one that is only meant roughly or goes up to another.</summary>
    [GeneratedRegex(@"[0-9]{1,4}(\.[0-9]{1,4})?", RegexOptions.NonBacktracking)]
    private static partial Regex Minute();
}
