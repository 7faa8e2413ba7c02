using System.Text.Json;
using System.Text.Json.Serialization;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Api;
using Tembri.Web.Ladders;
using Tembri.Web.Songs;

namespace Tembri.Web.Setup;

/// <summary>Registers everything the application is made of.</summary>
internal static class TembriServices
{
    public const string SignInRateLimit = "sign-in";

    public static void AddTembri(this WebApplicationBuilder builder)
    {
        var services = builder.Services;
        var connection = Environment.GetEnvironmentVariable("TEMBRI_DATABASE") is { Length: > 0 } own ? own : builder.Configuration.GetConnectionString("Tembri") ?? "";
        services.AddHttpContextAccessor();
        services.AddScoped<ICurrentStudio, SignedInStudio>();
        services.AddDbContext<TembriDbContext>(options => options.UseTembriDatabase(connection));
        services.AddDataProtection().SetApplicationName("Tembri").PersistKeysToDbContext<TembriDbContext>();
        AddAccounts(services);
        services.AddAntiforgery(options =>
        {
            options.HeaderName = "X-Tembri-Token";
            options.Cookie.Name = "tembri.form";
            options.Cookie.SameSite = SameSiteMode.Strict;
        });
        services.AddRazorPages(options =>
        {
            options.Conventions.AuthorizeFolder("/");
            options.Conventions.AllowAnonymousToFolder("/Account");
            options.Conventions.AllowAnonymousToPage("/Error");
            options.Conventions.AddPageRoute("/Songs/TakeDown", "songs/new");
            options.Conventions.AddPageRoute("/Students/Edit", "students/new");
        });
        services.AddScoped<StudioSettings>();
        services.AddMvcCore(options => options.Filters.Add<StudioSettingsFilter>());
        services.AddSingleton<LadderCache>();
        services.AddScoped<LadderDesk>();
        services.AddScoped<SongBringer>();
        services.AddScoped<DemoStudio>();
        services.AddHostedService<WarmUp>();
        services.AddHealthChecks().AddNpgSql(connection, name: "database");
        AddApi(services);
        AddRateLimits(services, builder.Configuration);
    }

    private static void AddAccounts(IServiceCollection services)
    {
        services.AddIdentityCore<Teacher>(options =>
            {
                options.User.RequireUniqueEmail = true;
                options.Password.RequiredLength = 10;
                options.Password.RequireNonAlphanumeric = false;
                options.Password.RequireUppercase = false;
                options.Password.RequireDigit = false;
                options.Lockout.MaxFailedAccessAttempts = 6;
                options.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(10);
            })
            .AddEntityFrameworkStores<TembriDbContext>()
            .AddSignInManager()
            .AddClaimsPrincipalFactory<TeacherClaims>();
        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddCookie(IdentityConstants.ApplicationScheme, options =>
        {
            options.LoginPath = "/account/sign-in";
            options.AccessDeniedPath = "/account/sign-in";
            options.Cookie.Name = "tembri.session";
            options.Cookie.HttpOnly = true;
            options.Cookie.SameSite = SameSiteMode.Lax;
            options.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            options.ExpireTimeSpan = TimeSpan.FromDays(14);
            options.SlidingExpiration = true;
        });
        services.AddAuthorization();
    }

    private static void AddApi(IServiceCollection services)
    {
        services.AddProblemDetails();
        services.AddExceptionHandler<ApiProblemHandler>();
        services.Configure<RouteHandlerOptions>(options => options.ThrowOnBadRequest = true);
        services.ConfigureHttpJsonOptions(options =>
        {
            options.SerializerOptions.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
            options.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.Never;
            options.SerializerOptions.Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
            options.SerializerOptions.MaxDepth = 16;
        });
        services.AddOpenApi("v1", options =>
        {
            options.CreateSchemaReferenceId = info => info.Type.DeclaringType is { } call ? call.Name.Replace("Call", "", StringComparison.Ordinal) + info.Type.Name
                : Microsoft.AspNetCore.OpenApi.OpenApiOptions.CreateDefaultSchemaReferenceId(info);
            options.AddDocumentTransformer((document, _, _) =>
            {
                document.Info.Title = "Tembri compute API";
                document.Info.Description = "Strings are listed from the lowest-pitched to the highest; frets are counted from the capo, null for a string left out; fingers: 0 none, 1 to 4, 5 thumb.";
                return Task.CompletedTask;
            });
        });
    }

    private static void AddRateLimits(IServiceCollection services, IConfiguration configuration)
    {
        var signIns = configuration.GetValue("RateLimits:SignInsPerMinute", 20);
        var calls = configuration.GetValue("RateLimits:ApiCallsPerMinute", 600);
        var loopbackCalls = configuration.GetValue("RateLimits:ApiCallsPerMinuteOnLoopback", 60_000);
        services.AddRateLimiter(options =>
        {
            options.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            options.AddPolicy(SignInRateLimit, context => context.Request.Method == HttpMethods.Post
                ? RateLimitPartition.GetFixedWindowLimiter(Address(context), _ => new FixedWindowRateLimiterOptions { PermitLimit = signIns, Window = TimeSpan.FromMinutes(1) })
                : RateLimitPartition.GetNoLimiter(""));
            options.AddPolicy(ComputeApi.RateLimit, context => RateLimitPartition.GetFixedWindowLimiter(Address(context), _ => new FixedWindowRateLimiterOptions
            {
                PermitLimit = context.Connection.RemoteIpAddress is null || System.Net.IPAddress.IsLoopback(context.Connection.RemoteIpAddress) ? loopbackCalls : calls,
                Window = TimeSpan.FromMinutes(1),
            }));
        });
    }

    private static string Address(HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "local";
}
