using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Music;
using Tembri.Data;

namespace Tembri.Web.Pages;

/// <summary>What a teacher settles once for the whole studio.</summary>
internal sealed class StudioModel(TembriDbContext context) : PageModel
{
    public static readonly IReadOnlyList<int> AllTunings = [1, 0, -1, -2, -3, -4, -5];

    public sealed class StudioForm
    {
        [Required(ErrorMessage = "Give the studio a name."), StringLength(80, ErrorMessage = "80 letters are the most for a name.")]
        public string Name { get; set; } = "";
        [EnumDataType(typeof(NoteNames), ErrorMessage = "Choose how notes are named.")]
        public NoteNames NoteNames { get; set; }
        public bool FretsFromNut { get; set; }
        public List<int> Tunings { get; set; } = [];
    }

    [BindProperty]
    public StudioForm Form { get; set; } = new();

    public bool Saved { get; private set; }

    public async Task OnGetAsync(bool saved = false)
    {
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        Form = new StudioForm { Name = studio.Name, NoteNames = studio.NoteNames, FretsFromNut = studio.FretsFromNut, Tunings = [.. studio.Tunings] };
        Saved = saved;
    }

    public async Task<IActionResult> OnPostAsync()
    {
        Form.Tunings = [.. AllTunings.Where(Form.Tunings.Contains)];
        if (Form.Tunings.Count == 0) ModelState.AddModelError("", "Choose at least one tuning.");
        if (!ModelState.IsValid) return Page();
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        (studio.Name, studio.NoteNames, studio.FretsFromNut, studio.Tunings) = (Form.Name.Trim(), Form.NoteNames, Form.FretsFromNut, [.. Form.Tunings]);
        await context.SaveChangesAsync();
        return Redirect("/studio?saved=true");
    }
}
