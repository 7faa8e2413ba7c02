using Tembri.Bench;

return args switch
{
    ["grips"] => GripCheck.Run(),
    ["capos"] => CapoCheck.Run(),
    ["times", .. var files] when files.Length > 0 => LadderTimes.Run(files),
    ["ladder", .. var files] => LadderLook.Run(files),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("usage: Tembri.Bench grips | capos | times FILE … | ladder FILE …");
    return 2;
}
