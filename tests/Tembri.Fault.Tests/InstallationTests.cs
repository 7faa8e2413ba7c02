using System.Diagnostics;
using System.Text.RegularExpressions;

namespace Tembri.Fault.Tests;

/// <summary>What <c>deploy/installation</c> writes for many machines. That they run with it is tried by
/// <c>scripts/machines</c>.</summary>
public sealed class InstallationTests : IDisposable
{
    private const string Machines = """
        # three databases, two fronts
        db1 10.0.0.1 database
        db2 10.0.0.2 database
        db3 10.0.0.3 database
        app1 10.0.0.11 front
        app2 10.0.0.12 front
        tower 10.0.0.21 watch
        host school.example
        network 10.0.0.0/24
        """;

    private readonly string _folder = Directory.CreateTempSubdirectory("tembri-installation").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void Each_machine_gets_all_it_needs_and_secrets_stay_what_they_are()
    {
        Write(Machines);
        Assert.Equal(0, Run("deploy/installation", _folder).Code);
        foreach (var machine in (string[])["db1", "db2", "db3", "app1", "app2", "tower"])
        {
            var own = Path.Combine(_folder, machine);
            var listed = File.ReadAllLines(Path.Combine(own, "list")).Select(l => l.Split(' '))
                .Where(l => !l[0].EndsWith('/')).ToList();
            var files = Directory.GetFiles(Path.Combine(own, "files"), "*", SearchOption.AllDirectories);
            Assert.Equal(listed.Select(l => l[0]).Order(), files.Select(f => f[(own.Length + "/files".Length)..]).Order());
            Assert.All(files, f => Assert.DoesNotMatch(new Regex(@"\{\{[A-Z_]+\}\}"), File.ReadAllText(f)));
            // Every certificate that is spoken of is there, whatever the machine is called.
            var spokenOf = files.SelectMany(f => Regex.Matches(File.ReadAllText(f), @"/etc/tembri/tls/[\w.-]+\.(?:crt|key)").Select(m => m.Value));
            Assert.Empty(spokenOf.Except(listed.Select(l => l[0])));
            // What holds a secret is read by nobody but who needs it.
            foreach (var line in listed)
                if (Secrets().Any(File.ReadAllText(Path.Combine(own, "files" + line[0])).Contains))
                    Assert.Matches("^(600|640)$", line[2]);
        }
        var (secrets, files1) = (Secrets(), File.ReadAllText(Of("app2", "etc/tembri/direct")));
        Assert.Equal(0, Run("deploy/installation", _folder).Code);
        Assert.Equal(secrets, Secrets());
        Assert.Equal(files1, File.ReadAllText(Of("app2", "etc/tembri/direct")));
        Assert.Equal(File.ReadAllBytes(Of("app1", "etc/tembri/cookies.pfx")), File.ReadAllBytes(Of("app2", "etc/tembri/cookies.pfx")));
    }

    [Fact]
    public void A_mail_server_is_told_to_who_sends_mail_and_its_password_is_in_no_file_that_others_read()
    {
        Write($"{Machines}\nmail mail.school.example:587 us@school.example\noffice you@school.example");
        Assert.Contains("mail.password is missing", Run("deploy/installation", _folder).Text, StringComparison.Ordinal);
        File.WriteAllText(Path.Combine(_folder, "mail.password"), "seven-grey-geese\n");
        Assert.Equal(0, Run("deploy/installation", _folder).Code);
        var service = File.ReadAllText(Of("app2", "etc/systemd/system/tembri.service.d/many.conf"));
        foreach (var said in (string[])["Mail__Host=mail.school.example ", "Mail__Port=587 ",
            "\"Mail__From=Tembri <tembri@school.example>\"", "Mail__User=us@school.example ",
            "Mail__PasswordFile=%d/mail.password", "LoadCredential=mail.password:/etc/tembri/mail.password"])
            Assert.Contains(said, service, StringComparison.Ordinal);
        Assert.Contains("auth_password_file: \"/etc/prometheus/mail.password\"",
            File.ReadAllText(Of("tower", "etc/prometheus/alertmanager.yml")), StringComparison.Ordinal);
        var holders = Directory.GetFiles(_folder, "*", SearchOption.AllDirectories)
            .Where(f => File.ReadAllText(f).Contains("seven-grey-geese", StringComparison.Ordinal))
            .Select(f => f[(_folder.Length + 1)..]).Order();
        Assert.Equal(["app1/files/etc/tembri/mail.password", "app2/files/etc/tembri/mail.password", "mail.password",
            "tower/files/etc/prometheus/mail.password"], holders);
        Assert.All((string[])["app1", "app2", "tower"], machine => Assert.Matches("mail.password [a-z:]+ (600|640)\n",
            File.ReadAllText(Path.Combine(_folder, machine, "list"))));
    }

    [Fact]
    public void Fronts_share_an_address_and_none_believes_it_is_another()
    {
        Write($"{Machines}\nshared 10.0.0.30");
        Assert.Equal(0, Run("deploy/installation", _folder).Code);
        string Said(string machine, string pattern) =>
            Regex.Match(File.ReadAllText(Of(machine, "etc/keepalived/keepalived.conf")), pattern, RegexOptions.Multiline).Groups[1].Value;
        Assert.NotEqual(Said("app1", @"priority (\d+)"), Said("app2", @"priority (\d+)"));
        foreach (var (machine, own, other) in new[] { ("app1", "10.0.0.11", "10.0.0.12"), ("app2", "10.0.0.12", "10.0.0.11") })
        {
            Assert.Equal((own, other), (Said(machine, @"unicast_src_ip (\S+)"), Said(machine, @"unicast_peer \{\s+([^}]*?)\s+\}")));
            Assert.Equal("10.0.0.30/24", Said(machine, @"virtual_ipaddress \{\s+([^}]*?)\s+\}"));
            // The machine itself knows how its network is called.
            Assert.Equal("@INTERFACE@", Said(machine, @"interface (\S+)"));
        }
    }

    [Fact]
    public void An_authority_is_changed_with_both_trusted_in_between_and_then_the_old_one_no_more()
    {
        Write(Machines);
        Run("deploy/installation", _folder);
        var before = Path.Combine(_folder, "before.crt");
        File.Copy(Of("db1", "etc/tembri/tls/db1.crt"), before);
        Assert.NotEqual(0, Run("deploy/authority", _folder, "use").Code);
        foreach (var (round, trusted, oldHolds) in new[] { ("new", 2, true), ("use", 2, true), ("done", 1, false) })
        {
            Assert.Equal(0, Run("deploy/authority", _folder, round).Code);
            Assert.Equal(0, Run("deploy/installation", _folder).Code);
            var authority = Of("db1", "etc/tembri/tls/authority.crt");
            Assert.Equal(trusted, Regex.Count(File.ReadAllText(authority), "BEGIN CERTIFICATE"));
            Assert.Equal(oldHolds, Run("openssl", "verify", "-CAfile", authority, before).Code == 0);
            Assert.Equal(0, Run("openssl", "verify", "-CAfile", authority, Of("db1", "etc/tembri/tls/db1.crt")).Code);
        }
    }

    [Theory]
    [InlineData("db3 10.0.0.3 database\n", "", "2 machines for databases; three are wanted")]
    [InlineData("app1 10.0.0.11 front", "app1 10.0.0.300.1 front", "line 5: '10.0.0.300.1' is no address")]
    [InlineData("app2 10.0.0.12 front", "app2 10.0.0.11 front", "line 6: there is a machine with the address 10.0.0.11 already")]
    [InlineData("app2 10.0.0.12", "app1 10.0.0.12", "line 6: there is a machine named app1 already")]
    [InlineData("tower 10.0.0.21 watch", "tower 10.0.0.21 guard", "line 7: 'guard' is none of database, front, watch")]
    [InlineData("host school.example", "", "'host NAME' is missing")]
    [InlineData("network 10.0.0.0/24", "network here", "'network 10.0.0.0/24' is missing")]
    [InlineData("network", "office nobody\nnetwork", "'office' is an address of mail")]
    [InlineData("network", "shared here\nnetwork", "'shared' wants an address")]
    [InlineData("network", "shared 10.0.0.11\nnetwork", "'shared' is the address of a machine")]
    [InlineData("app2 10.0.0.12 front", "shared 10.0.0.30", "'shared' wants two fronts")]
    [InlineData("network", "mail by-pigeon\nnetwork", "'mail' wants HOST:PORT")]
    [InlineData("db1 10", "secrets 10", "a machine cannot be named secrets")]
    public void A_list_that_cannot_be_read_is_refused_with_its_line(string what, string by, string said)
    {
        Write(Machines.Replace(what, by, StringComparison.Ordinal));
        var (code, text) = Run("deploy/installation", _folder);
        Assert.NotEqual(0, code);
        Assert.Contains(said, text, StringComparison.Ordinal);
        Assert.False(Directory.Exists(Path.Combine(_folder, "app2")));
    }

    [Theory]
    [InlineData("00000013000000000000005B", 45, 0)]
    [InlineData("00000013000000000000005C", 45, 0)]
    [InlineData("000000130000000100000000", 45, 0)]
    [InlineData("00000013000000000000005A", 45, 45)]
    [InlineData("00000014000000000000005B", 45, 45)]
    [InlineData("00000013.history", 45, 45)]
    [InlineData("00000013000000000000005B", 103, 103)]
    [InlineData("00000014000000000000005B", 0, 0)]
    public void A_segment_behind_the_place_where_its_timeline_was_left_holds_nothing_up(string segment, int answer, int code)
    {
        var archiver = Path.Combine(_folder, "pgbackrest");
        File.WriteAllText(archiver, $"#!/bin/sh\n[ \"$*\" = \"--config=own --stanza=tembri archive-push $PLACE\" ] && exit {answer}\n");
        Assert.Equal(0, Run("/usr/bin/env", "chmod", "755", archiver).Code);
        File.WriteAllText(Path.Combine(_folder, "00000014.history"), "18\t0/57000000\tno target\n\n19\t0/5B017120\tno target\n");
        var place = Path.Combine(_folder, segment);
        var (ended, said) = Run("/usr/bin/env", $"PATH={_folder}:/usr/bin:/bin", $"PLACE={place}",
            Path.Combine(OwnDatabase.Folder, "deploy/patroni/archive"), "own", place);
        Assert.Equal(code, ended);
        Assert.Equal(answer != 0 && code == 0, said.Contains($"of {segment} the copy in the archive stays", StringComparison.Ordinal));
    }

    private List<string> Secrets() => [.. ((string[])["owner", "replicator", "tembri", "repository"])
        .Select(name => File.ReadAllText(Path.Combine(_folder, "secrets", name)))];

    private string Of(string machine, string path) => Path.Combine(_folder, machine, "files", path);

    private void Write(string machines) => File.WriteAllText(Path.Combine(_folder, "machines"), machines + "\n");

    private static (int Code, string Text) Run(string program, params string[] with)
    {
        using var process = Process.Start(new ProcessStartInfo(
            program.Contains('/', StringComparison.Ordinal) ? Path.Combine(OwnDatabase.Folder, program) : program, with)
            { RedirectStandardError = true, RedirectStandardOutput = true })!;
        var said = process.StandardError.ReadToEndAsync();
        var text = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, text + said.Result);
    }
}
