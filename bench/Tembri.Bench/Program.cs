using Tembri.Bench;

return args switch
{
    ["grips"] => GripCheck.Run(),
    ["capos"] => CapoCheck.Run(),
    ["ladder", .. var files] => LadderLook.Run(files),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("usage: Tembri.Bench grips | capos | ladder FILE …");
    return 2;
}
