using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tembri.Core;

/// <summary>Reads the data files that are shipped inside this assembly.</summary>
internal static class EmbeddedData
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    /// <summary>Reads a text file.</summary>
    /// <exception cref="InvalidOperationException">The file is not part of the assembly.</exception>
    public static string Text(string name)
    {
        using var stream = typeof(EmbeddedData).Assembly.GetManifestResourceStream(name)
            ?? throw new InvalidOperationException($"The data file {name} is not embedded.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }

    /// <summary>Reads a JSON file into a type; unknown members are an error.</summary>
    public static T Json<T>(string name) =>
        JsonSerializer.Deserialize<T>(Text(name), Options)
            ?? throw new InvalidOperationException($"The data file {name} is empty.");
}
