using Tembri.Web.Archive;
using Serilog;
using Tembri.Data;
using Tembri.Web.Api;
using Tembri.Web.Faults;
using Tembri.Web.Operating;
using Tembri.Web.Practice;
using Tembri.Web.Recordings;
using Tembri.Web.Setup;

// Published, everything lies beside the program, wherever it is started from.
var beside = Directory.Exists(Path.Combine(AppContext.BaseDirectory, "wwwroot")) ? AppContext.BaseDirectory : null;
var isOperator = args is ["operator", ..];
var builder =
    WebApplication.CreateBuilder(new WebApplicationOptions { Args = isOperator ? [] : args, ContentRootPath = beside });
// One line an event: what is written down of a fault is its kind and place, never a message that may hold what somebody typed.
builder.Host.UseSerilog((context, log) => log.ReadFrom.Configuration(context.Configuration)
    .Enrich.With<FaultPlaces>().WriteTo.Console(
    outputTemplate: $"{{Timestamp:yyyy-MM-dd HH:mm:ss.fff zzz}} {{Level:u3}} {{Message:lj}}{{{FaultPlaces.Property}:l}}{{NewLine}}"));
builder.WebHost.ConfigureKestrel(kestrel =>
{
    kestrel.AddServerHeader = false;
    kestrel.Limits.MaxRequestBodySize = 6 * 1024 * 1024;
});
try { builder.AddTembri(); }
catch (FormatException e)
{
    // A setting nobody can read: said to whoever starts it, without the way the program took.
    Console.Error.WriteLine(e.Message);
    return 1;
}
if (isOperator) return await OperatorLine.RunAsync(builder, args[1..]);

var app = builder.Build();
if (!await app.PrepareDatabaseAsync()) return 1;
await app.BeginMeasuringAsync();

app.Use(app.Services.GetRequiredService<Pipeline>().Hold);
app.Use((context, next) =>
{
    SharedPatience.Begin();
    return next(context);
});
app.UseNamedProxies();
app.UseSecurityHeaders();
app.UseWhen(
    context => !context.Request.Path.StartsWithSegments("/account") && !context.Request.Path.StartsWithSegments("/assets"),
    packed => packed.UseResponseCompression());
app.UseMiddleware<FaultAnswers>();
app.UsePackedAssets();
app.UseRouting();
if (app.Services.GetRequiredService<Databases>().Standby is not null) app.UseMiddleware<StandbyReads>();
app.UseMiddleware<StudentDoorStep>();
app.UseRateLimiter();
app.UseAuthentication();
app.UseAuthorization();
app.UseMiddleware<KeptPages>();
app.MapHealth();
app.MapOpenApi("/openapi/{documentName}.json").AllowAnonymous();
app.MapComputeApi();
app.MapRecordApi();
app.MapDataApi();
app.MapFormToken();
app.MapStudentApi();
app.MapGet("/today", () => Results.Redirect("/"));
app.MapRazorPages();

try
{
    await app.RunAsync();
    return 0;
}
catch (IOException e) when (e.InnerException is Microsoft.AspNetCore.Connections.AddressInUseException)
{
    Console.Error.WriteLine($"Tembri cannot listen on {string.Join(", ", app.Urls)}: the port is in use. Stop the other "
        + "program, or choose another port with TEMBRI_PORT.");
    return 1;
}

/// <summary>The application; public so that tests can host it.</summary>
public partial class Program;
