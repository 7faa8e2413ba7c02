namespace Tembri.Web.Setup;

/// <summary>The addresses of pages that belong to a song or a student, each written here once. Pages say the same in their
/// route; a test follows the tabs.</summary>
internal static class Paths
{
    public static string Chart(Guid? song, Guid? student = null) =>
        $"/songs/{song}/chart{(student is { } who ? $"?student={who}" : "")}";

    /// <summary>The chart, with why no ladder can be made of it said above.</summary>
    public static string ChartWithoutLadder(Guid song, Guid? student) =>
        Chart(song, student) + (student is null ? "?" : "&") + "why=ladder";
    public static string SavedChart(Guid song, Guid? student = null) =>
        Chart(song, student) + (student is null ? "?" : "&") + "saved=true";
    public static string Record(Guid? song, Guid? student = null) =>
        $"/songs/{song}/record{(student is { } who ? $"?student={who}" : "")}";
    public static string History(Guid? song, Guid? student = null) =>
        $"/songs/{song}/history{(student is { } who ? $"?student={who}" : "")}";
    public static string Ladder(Guid song, Guid student) => $"/songs/{song}/ladder/{student}";
    public static string Steps(Guid song, Guid student) => Ladder(song, student) + "/steps";
    public static string Rungs(Guid song, Guid student) => Ladder(song, student) + "/rungs";
    public static string Compare(Guid song, Guid student) => Ladder(song, student) + "/compare";
    public static string Hand(Guid song, Guid student, Guid? version = null) =>
        Ladder(song, student) + "/hand" + (version is { } v ? $"/{v}" : "");
    public static string Changes(Guid song, Guid student, int? rung = null) =>
        $"/songs/{song}/changes/{student}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string RightHand(Guid song, Guid student, int? rung = null) =>
        $"/songs/{song}/right-hand/{student}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Figures(Guid song, Guid student) => $"/songs/{song}/figures/{student}";
    public static string Stage(Guid song, Guid student, int? rung = null) =>
        $"/songs/{song}/stage/{student}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Places(Guid song, Guid student) => $"/songs/{song}/places/{student}";
    public static string Listen(Guid? song, Guid? student, int? rung = null) =>
        $"/songs/{song}/listen{(student is { } who ? $"/{who}" : "")}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Sheet(Guid song, Guid student, int? rung = null) =>
        $"/songs/{song}/sheet/{student}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Files(Guid? song, Guid? student = null, int? rung = null) =>
        $"/songs/{song}/files{(student is { } who ? $"?student={who}{(rung is { } r ? $"&rung={r}" : "")}" : "")}";
    public static string Class(Guid song, Guid? student = null) =>
        $"/songs/{song}/class{(student is { } who ? $"?student={who}" : "")}";

    /// <summary>Several students on one song.</summary>
    public static string Class(Guid song, IEnumerable<Guid> students) =>
        $"/songs/{song}/class?{string.Join('&', students.Select(s => $"with={s}"))}";
    public static string Student(Guid? student) => $"/students/{student}";
    public static string Practice(Guid student) => $"/students/{student}/practice";
    public static string Road(Guid student) => $"/students/{student}/road";
    public static string Log(Guid student) => $"/students/{student}/log";
    public static string Meeting(Guid student) => $"/students/{student}/meeting";
    public static string Records(Guid student) => $"/students/{student}/records";

    /// <summary>A student's own page; the secret stands in the path alone.</summary>
    public static string My(string secret) => $"/my/{secret}";
    public static string EraseStudent(Guid? student) => Student(student) + "/erase";
}
