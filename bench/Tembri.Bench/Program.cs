using Tembri.Bench;

return args switch
{
    ["grips"] => GripCheck.Run(),
    ["fingers", var published, .. var how] => FingerCheck.Run(published, how.Contains("misses")),
    ["fit", .. var how] => WeightFit.Run(how.Contains("write")),
    ["habits", var published, .. var how] => HabitFit.Run(published, how.Contains("write"), how.Contains("misses")),
    ["loads", .. var shapes] => LoadLook.Run(shapes),
    ["complaints", var folder, .. var which] => Complaints.Run(folder, which.FirstOrDefault()),
    ["counts", .. var how] => CountCheck.Run(how.Contains("fit")),
    ["capos"] => CapoCheck.Run(),
    ["hand"] => HandTimes.Run(),
    ["right-hand"] => RightHandTimes.Run(),
    ["hearing", .. var how] => HearingCheck.Run(how),
    ["learning"] => LearningTimes.Run(),
    ["road", var songs] => RoadTimes.Run(songs),
    ["class", var folder] => ClassTimes.Run(folder),
    ["crowd", .. var how] when how.Length > 3 => Crowd.Run(how),
    ["press", var url, var page, var users,
        var seconds, .. var more] => Crowd.Press(url, page, int.Parse(users, System.Globalization.CultureInfo.InvariantCulture),
            double.Parse(seconds, System.Globalization.CultureInfo.InvariantCulture), more is ["anew"]),
    ["duel"] => SolverDuel.Run(),
    ["students", var folder] => FitCheck.Run(folder),
    ["targets", .. var filters] => Targets.Run(filters),
    ["memory", .. var files] when files.Length > 0 => LibraryMemory.Run(files),
    ["paces", .. var files] when files.Length > 0 => PaceCheck.Run(files),
    ["kinds", .. var files] when files.Length > 0 => KindMemory.Run(files),
    ["spin", var what, var count] => Spin.Run(what, int.Parse(count, System.Globalization.CultureInfo.InvariantCulture)),
    ["times", .. var files] when files.Length > 0 => LadderTimes.Run(files),
    ["hostile", var folder, var count] =>
        HostileCheck.Run(folder, int.Parse(count, System.Globalization.CultureInfo.InvariantCulture)),
    ["ladder", .. var files] => LadderLook.Run(files),
    ["read", .. var files] => ReadLook.Run(files),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("usage: Tembri.Bench grips | loads SHAPE … | fingers FILE [misses] | complaints FOLDER [KIND] | "
        + "counts [fit] | habits FILE [write] [misses] | fit [write] | capos | hand | duel | hearing [SONGS FIRST KIND say] | "
        + "class REPOSITORY | road SONGS | crowd URL TEACHERS PHONES SECONDS [think=5] [acks=FILE] [fault=AT:FELT:COMMAND …] | "
        + "press URL PAGE USERS SECONDS | students FOLDER | targets [FILTER …] | memory FILE … | times FILE … | spin "
        + "cold|edit|again COUNT | paces FILE … | kinds FILE … | ladder FILE … | read FILE … | hostile REPOSITORY COUNT");
    return 2;
}
