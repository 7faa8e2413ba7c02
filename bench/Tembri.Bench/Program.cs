using Tembri.Bench;

return args switch
{
    ["grips"] => GripCheck.Run(),
    _ => Usage(),
};

static int Usage()
{
    Console.Error.WriteLine("usage: Tembri.Bench grips");
    return 2;
}
