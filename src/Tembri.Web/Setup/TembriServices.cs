using System.Text.Json;
using System.Text.Json.Serialization;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using Tembri.Core;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;
using Tembri.Web.Accounts;
using Tembri.Web.Api;
using Tembri.Web.Computing;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Mail;
using Tembri.Web.Practice;
using Tembri.Web.Songs;

namespace Tembri.Web.Setup;

/// <summary>Registers everything the application is made of.</summary>
internal static class TembriServices
{
    public const string SignInRateLimit = "sign-in";

    /// <summary>Limits how often one asks how hard a password is to guess.</summary>
    public const string StrengthRateLimit = "strength";

    public static void AddTembri(this WebApplicationBuilder builder)
    {
        var (services, configuration) = (builder.Services, builder.Configuration);
        var databases = Databases.Of(configuration);
        services.AddSingleton(databases);
        services.AddScoped<DatabaseOfRequest>();
        services.AddHttpContextAccessor();
        services.AddScoped<ICurrentStudio, SignedInStudio>();
        var isWatched = configuration.GetValue<bool>("Database:WatchContexts");
        services.AddDbContext<TembriDbContext>((request, options) =>
            options.UseTembriDatabase(request.GetRequiredService<DatabaseOfRequest>().Connection, databases.Patience,
                isWatched));
        services.AddKeyProtection(configuration);
        var publicAddress = new PublicAddress(configuration);
        services.AddSingleton(publicAddress);
        AddHosts(services, configuration, publicAddress);
        var accounts = AccountSettings.Of(configuration, publicAddress);
        services.AddSingleton(accounts);
        AddAccounts(services, publicAddress, accounts);
        AddMail(services, configuration);
        services.AddAntiforgery(options =>
        {
            options.HeaderName = "X-Tembri-Token";
            options.Cookie.Name = accounts.CookieName("tembri.form");
            options.Cookie.SameSite = SameSiteMode.Strict;
            options.Cookie.SecurePolicy = publicAddress.IsSecure ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
        });
        services.AddRazorPages(options =>
        {
            options.Conventions.AuthorizeFolder("/");
            foreach (var open in new[]
            {
                "SignIn", "SecondFactor", "Open", "Forgot", "Reset", "Address", "Mail", "SignOut", "Strength"
            })
                options.Conventions.AllowAnonymousToPage($"/Account/{open}");
            options.Conventions.AllowAnonymousToFolder("/My");
            options.Conventions.AddPageRoute("/Songs/TakeDown", "songs/new");
            options.Conventions.AddPageRoute("/Students/Edit", "students/new");
        });
        services.AddScoped<StudioSettings>();
        services.AddMvcCore(options =>
        {
            options.Filters.Add<PageGuard>();
            options.Filters.Add<StaleFormFilter>();
            options.ModelBinderProviders.Insert(0, new TickBinding.Provider());
        });
        services.Configure<ComputeOptions>(configuration.GetSection("Compute"));
        services.AddSingleton<ComputeLanes>();
        services.AddSingleton<Recordings.Uploads>();
        services.AddSingleton<AssetNames>();
        services.AddSingleton(new ResultCache());
        services.AddSingleton<LadderBuilder>();
        services.AddSingleton<LadderShelf>();
        services.AddBackgroundArranging(configuration, databases.Direct);
        services.AddScoped<LadderDesk>();
        services.AddScoped<ClassDesk>();
        services.AddScoped<RoadDesk>();
        services.AddScoped<Archive.StudioArchive>();
        services.AddScoped<Archive.ApiKeys>();
        services.AddScoped<Operating.OperatorDesk>();
        services.AddScoped<Operating.LoadLook>();
        services.AddScoped<SetDesk>();
        services.AddSingleton<Sheets.PaperFonts>();
        services.AddSingleton<Sheets.Booklet>();
        services.AddScoped<Sheets.SheetSets>();
        services.AddScoped<Sheets.SheetSetWork>();
        services.AddScoped<LadderSteps>();
        services.AddScoped<SongBringer>();
        services.AddScoped<SongHistory>();
        services.AddScoped<SongKeeper>();
        services.AddScoped<LogStanding>();
        services.AddScoped<Logbook>();
        services.AddSingleton<SightsNoted>();
        services.AddScoped<PlanDesk>();
        services.AddScoped<LessonBook>();
        services.AddScoped<StudentDoor>();
        services.AddScoped<StudentExport>();
        services.AddHostedService<Retention>();
        services.AddScoped<DemoPractice>();
        services.AddScoped<DemoStudio>();
        services.AddSingleton<Pipeline>();
        services.AddScoped<Onlooker>();
        services.AddSingleton<Rehearsal>();
        services.AddHostedService<Housekeeping>();
        services.AddHostedService<OldChanges>();
        services.AddHealthChecks()
            .AddNpgSql(databases.Main, name: "database", tags: [Watching.Ready], timeout: TimeSpan.FromSeconds(2));
        services.AddSingleton<IHealthCheckPublisher, HealthLog>();
        services.Configure<HealthCheckPublisherOptions>(options => options.Period = HealthLog.Every);
        if (configuration.GetValue("WarmUp", true))
        {
            services.AddSingleton<WarmUp>();
            services.AddHostedService(provider => provider.GetRequiredService<WarmUp>());
        }
        services.AddMeasures(configuration);
        services.AddTraces(configuration);
        AddCompression(services);
        AddApi(services);
        AddRateLimits(services, configuration);
    }

    /// <summary>Answers to listed host names only, so that a page of elsewhere whose name is pointed here gets
    /// nothing.</summary>
    private static void AddHosts(IServiceCollection services, IConfiguration configuration, PublicAddress publicAddress) =>
        services.Configure<Microsoft.AspNetCore.HostFiltering.HostFilteringOptions>(options =>
        {
            var named = (configuration["AllowedHosts"] ?? "")
                .Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Where(h => h != "*")
                .ToList();
            if (publicAddress.Host is { } host) named.Add(host);
            options.AllowedHosts = named.Count > 0 ? named : ["localhost", "127.0.0.1", "[::1]"];
            options.AllowEmptyHosts = false;
            options.IncludeFailureMessage = false;
        });

    /// <summary>Answers are packed, but for pages of accounts: there secrets (keys for the app, recovery codes) stand beside
    /// what a stranger could have put into the address.</summary>
    private static void AddCompression(IServiceCollection services)
    {
        services.AddResponseCompression(options =>
        {
            options.EnableForHttps = true;
            options.Providers.Add<BrotliCompressionProvider>();
            options.Providers.Add<GzipCompressionProvider>();
            options.MimeTypes = [.. ResponseCompressionDefaults.MimeTypes, "application/problem+json",
                "application/vnd.recordare.musicxml+xml", "image/svg+xml"];
        });
    }

    private static void AddMail(IServiceCollection services, IConfiguration configuration)
    {
        services.Configure<MailOptions>(configuration.GetSection("Mail"));
        var hasServer = configuration["Mail:Host"] is { Length: > 0 };
        var hasStandIn = !hasServer && configuration.GetValue("Demo", false);
        services.AddSingleton(new MailSetup(hasServer || hasStandIn, hasStandIn));
        if (hasServer) services.AddScoped<IMailer, SmtpMailer>();
        else if (hasStandIn) services.AddScoped<IMailer, StandInMailer>();
        else services.AddScoped<IMailer, NoMailer>();
        services.AddSingleton<MailRoom>();
        services.AddHostedService(provider => provider.GetRequiredService<MailRoom>());
        services.AddScoped<AccountMails>();
    }

    private static void AddAccounts(IServiceCollection services, PublicAddress publicAddress, AccountSettings settings)
    {
        services.AddIdentityCore<Teacher>(options =>
            {
                // Length and a list of common ones are asked by PasswordRules; kinds of letters are not.
                options.Password.RequiredLength = 1;
                options.Password.RequiredUniqueChars = 1;
                options.Password.RequireNonAlphanumeric = options.Password.RequireDigit = false;
                options.Password.RequireUppercase = options.Password.RequireLowercase = false;
                options.Lockout.AllowedForNewUsers = false;
            })
            .AddPasswordValidator<PasswordRules>()
            .AddEntityFrameworkStores<TembriDbContext>()
            .AddUserStore<SealedTokens>()
            .AddSignInManager()
            .AddDefaultTokenProviders()
            .AddTokenProvider<CodesOnce>(TokenOptions.DefaultAuthenticatorProvider)
            .AddClaimsPrincipalFactory<TeacherClaims>();
        services.Configure<PasswordHasherOptions>(options => options.IterationCount = PasswordDigests.Rounds);
        services.AddScoped<IPasswordHasher<Teacher>, PasswordDigests>();
        services.Configure<DataProtectionTokenProviderOptions>(options => options.TokenLifespan = TimeSpan.FromHours(2));
        services.AddScoped<AccountDoor>();
        services.AddScoped<SessionBook>();
        services.AddSingleton<SeenSessions>();
        services.AddHostedService(provider => provider.GetRequiredService<SeenSessions>());
        services.AddScoped<SignInDelays>();
        services.AddScoped<OwnPassword>();
        void Usual(CookieBuilder cookie, string name)
        {
            (cookie.Name, cookie.HttpOnly, cookie.SameSite) = (settings.CookieName(name), true, SameSiteMode.Lax);
            cookie.SecurePolicy = publicAddress.IsSecure ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
        }
        services.AddAuthentication(IdentityConstants.ApplicationScheme).AddCookie(IdentityConstants.ApplicationScheme, options =>
        {
            options.LoginPath = "/account/sign-in";
            options.AccessDeniedPath = "/account/sign-in";
            Usual(options.Cookie, "tembri.session");
            options.ExpireTimeSpan = TimeSpan.FromDays(14);
            options.SlidingExpiration = true;
            options.Events.OnValidatePrincipal = SessionBook.ValidateAsync;
            // Only who opens a page is led to the sign-in. A script would take that page for its answer, and a form would lose
            // what it holds.
            options.Events.OnRedirectToLogin = context =>
            {
                if (context.Request.IsNavigation()) context.Response.Redirect(context.RedirectUri);
                else context.Response.StatusCode = StatusCodes.Status401Unauthorized;
                return Task.CompletedTask;
            };
        }).AddCookie(IdentityConstants.TwoFactorUserIdScheme, options =>
        {
            Usual(options.Cookie, "tembri.second-step");
            options.ExpireTimeSpan = TimeSpan.FromMinutes(10);
        });
        services.AddAuthorization();
    }

    private static void AddApi(IServiceCollection services)
    {
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
            options.CreateSchemaReferenceId = info =>
                info.Type.DeclaringType is { } call ? call.Name.Replace("Call", "", StringComparison.Ordinal) + info.Type.Name
                : Microsoft.AspNetCore.OpenApi.OpenApiOptions.CreateDefaultSchemaReferenceId(info);
            options.AddDocumentTransformer((document, _, _) =>
            {
                document.Info.Title = "Tembri compute API";
                document.Info.Description =
                    "Strings are listed from the lowest-pitched to the highest; frets are counted from the capo, null for a "
                        + "string left out; fingers: 0 none, 1 to 4, 5 thumb.";
                return Task.CompletedTask;
            });
        });
    }

    private static void AddRateLimits(IServiceCollection services, IConfiguration configuration)
    {
        var signIns = configuration.GetValue("RateLimits:SignInsPerMinute", 20);
        var links = configuration.GetValue("RateLimits:StudentCallsPerMinute", 300);
        var calls = configuration.GetValue("RateLimits:ApiCallsPerMinute", 600);
        var loopbackCalls = configuration.GetValue("RateLimits:ApiCallsPerMinuteOnLoopback", 60_000);
        services.AddRateLimiter(options =>
        {
            options.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            options.OnRejected = (rejected, _) =>
            {
                var wait =
                    rejected.Lease.TryGetMetadata(MetadataName.RetryAfter, out var after) ? after : TimeSpan.FromSeconds(30);
                rejected.HttpContext.Response.Headers.RetryAfter =
                    Math.Max(1, Math.Ceiling(wait.TotalSeconds)).ToString(System.Globalization.CultureInfo.InvariantCulture);
                return ValueTask.CompletedTask;
            };
            options.AddPolicy(SignInRateLimit, context => context.Request.Method == HttpMethods.Post
                ? RateLimitPartition.GetFixedWindowLimiter(Address(context),
                    _ => new FixedWindowRateLimiterOptions { PermitLimit = signIns, Window = TimeSpan.FromMinutes(1) })
                : RateLimitPartition.GetNoLimiter(""));
            // A field that is typed into asks three times a second at most.
            options.AddPolicy(StrengthRateLimit,
                context => RateLimitPartition.GetFixedWindowLimiter(Address(context),
                    _ => new FixedWindowRateLimiterOptions { PermitLimit = 200, Window = TimeSpan.FromMinutes(1) }));
            options.AddPolicy(StudentDoor.RateLimit,
                context => RateLimitPartition.GetFixedWindowLimiter(Address(context),
                    _ => new FixedWindowRateLimiterOptions { PermitLimit = links, Window = TimeSpan.FromMinutes(1) }));
            options.AddPolicy(StudentDoor.HandInLimit,
                context => RateLimitPartition.GetFixedWindowLimiter($"in {Address(context)}",
                    _ => new FixedWindowRateLimiterOptions
                    {
                        PermitLimit = Math.Max(1, links / 5), Window = TimeSpan.FromMinutes(1)
                    }));
            RateLimitPartition<string> Calls(HttpContext context) => RateLimitPartition.GetFixedWindowLimiter(Address(context),
                _ => new FixedWindowRateLimiterOptions
            {
                PermitLimit = context.Connection.RemoteIpAddress is null
                        || System.Net.IPAddress.IsLoopback(context.Connection.RemoteIpAddress)
                    ? loopbackCalls
                    : calls,
                Window = TimeSpan.FromMinutes(1),
            });
            options.AddPolicy(ComputeApi.RateLimit, Calls);
            options.AddPolicy(Archive.DataApi.RateLimit, Calls);
        });
    }

    private static string Address(HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "local";
}
