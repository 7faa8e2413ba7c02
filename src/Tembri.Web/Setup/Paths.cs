namespace Tembri.Web.Setup;

/// <summary>The addresses of pages that belong to a song or a student, each written here once. Pages say the same in their route; a test follows the tabs.</summary>
internal static class Paths
{
    public static string Chart(Guid? song) => $"/songs/{song}/chart";
    public static string SavedChart(Guid song) => Chart(song) + "?saved=true";
    public static string History(Guid? song) => $"/songs/{song}/history";
    public static string Ladder(Guid song, Guid student) => $"/songs/{song}/ladder/{student}";
    public static string Places(Guid song, Guid student) => $"/songs/{song}/places/{student}";
    public static string Listen(Guid? song, Guid? student, int? rung = null) => $"/songs/{song}/listen{(student is { } who ? $"/{who}" : "")}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Sheet(Guid song, Guid student, int? rung = null) => $"/songs/{song}/sheet/{student}{(rung is { } r ? $"?rung={r}" : "")}";
    public static string Files(Guid? song, Guid? student = null, int? rung = null) => $"/songs/{song}/files{(student is { } who ? $"?student={who}&rung={rung}" : "")}";
    public static string Student(Guid? student) => $"/students/{student}";
    public static string EraseStudent(Guid? student) => Student(student) + "/erase";
}
