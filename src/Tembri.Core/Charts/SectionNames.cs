namespace Tembri.Core.Charts;

/// <summary>What sections are called, in English and in other languages, and what part each name plays.</summary>
public static class SectionNames
{
    /// <summary>What names of one kind begin with in English, and whole words that mean the same elsewhere.</summary>
    private readonly record struct Known(SectionKind Kind, string[] English, string[] Elsewhere)
    {
        public bool Has(string name) =>
            Array.Exists(English, w => name.StartsWith(w, StringComparison.OrdinalIgnoreCase))
                || Array.Exists(Elsewhere, w => name.StartsWith(w, StringComparison.OrdinalIgnoreCase));
    }

    private static readonly Known[] All =
    [
        new(SectionKind.PreChorus, ["prechorus", "pre"],
            ["prerefrain", "prérefrain", "prerefrein", "prérefrão", "prerefrao", "precoro", "preestribillo", "pré", "vorrefrain"]),
        new(SectionKind.PostChorus, ["post"], []),
        new(SectionKind.Intro, ["intro"],
            ["introduction", "introducción", "introduccion", "introduzione", "introdução", "introducao", "vorspiel", "voorspel", "förspel",
                "forspill", "forspil", "wstęp", "вступление"]),
        new(SectionKind.Verse, ["verse"],
            ["verso", "vers", "strophe", "couplet", "estrofa", "estrofe", "strofa", "zwrotka", "sloka", "säkeistö", "куплет"]),
        new(SectionKind.Chorus, ["chorus"],
            ["refrain", "kehrvers", "refrein", "refräng", "refreng", "refrén", "refren", "refrão", "refrao", "omkvæd", "estribillo", "coro",
                "ritornello", "kertosäe", "припев"]),
        new(SectionKind.Bridge, ["bridge", "middle"], ["puente", "ponte", "pont", "brücke", "brug", "brygga", "mostek"]),
        new(SectionKind.Interlude, ["interlude", "inter", "turn"],
            ["zwischenspiel", "tussenspel", "mellanspel", "mellomspill", "mellemspil", "interludio", "interlúdio", "intermezzo", "mezihra",
                "проигрыш"]),
        new(SectionKind.Solo, ["solo"], []),
        new(SectionKind.Outro, ["outro", "coda"], ["ending", "nachspiel", "naspel", "schluss", "finale"]),
    ];

    /// <summary>The English word for a whole name in another language; any other name as it is.</summary>
    /// <param name="name">A name without number, blanks and signs, in small letters: strophe, prérefrão.</param>
    public static string InEnglish(string name) =>
        Array.Find(All, k => k.Elsewhere.Contains(name)) is { English: [var english, ..] } ? english : name;

    /// <summary>What part a section plays by what its name begins with; one of its own where no word is known.</summary>
    public static SectionKind KindOf(string name) => Array.Find(All, k => k.Has(name)).Kind;

    /// <summary>Every word of another language that is known.</summary>
    public static IEnumerable<string> Elsewhere => All.SelectMany(k => k.Elsewhere);
}
