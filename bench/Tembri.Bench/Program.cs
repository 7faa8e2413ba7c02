using Tembri.Bench;

return args switch
{
    ["grips"] => GripCheck.Run(),
    ["fit", .. var how] => WeightFit.Run(how.Contains("write")),
    ["capos"] => CapoCheck.Run(),
    ["times", .. var files] when files.Length > 0 => LadderTimes.Run(files),
    ["ladder", .. var files] => LadderLook.Run(files),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("usage: Tembri.Bench grips | fit [write] | capos | times FILE … | ladder FILE …");
    return 2;
}
