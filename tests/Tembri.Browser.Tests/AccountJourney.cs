using OpenQA.Selenium;

namespace Tembri.Browser.Tests;

/// <summary>The pages around the account, by mouse and keys, wide and narrow, with axe.</summary>
public sealed class AccountJourney(BrowserHost host) : BrowserTest(host)
{
    [Fact]
    public void The_account_is_looked_after_from_a_desk_and_from_a_phone()
    {
        foreach (var page in new[]
        {
            "/account/sign-in", "/account/open", "/account/forgot",
            "/account/reset?user=0a1b2c3d-0000-7000-8000-000000000000&token=x"
        })
        {
            Go(page);
            Find("h1");
            CheckWithAxe(page);
        }
        OpenStudio();
        Go("/studio");
        Find("a[href='/account']").Click();
        Until("h1", h => h.Text == "Your account");
        CheckWithAxe("account");
        Find("form[action$=Factor] input[name=password]").SendKeys("quiet-blue-door" + Keys.Enter);
        Until("h2", h => h.Text == "Set up the app");
        Assert.True(Find("svg.drawing").Size.Width >= 200);
        CheckWithAxe("second factor");
        Browser.ExecuteCdpCommand("Emulation.setDeviceMetricsOverride",
            new() { ["width"] = 390, ["height"] = 844, ["deviceScaleFactor"] = 1, ["mobile"] = true });
        Go("/account");
        Find("h1");
        Assert.True((long)Browser.ExecuteScript("return document.documentElement.scrollWidth")! <= 390);
        Find("form[action$=Password] input[name=password]").SendKeys("quiet-blue-door");
        var chosen = Find("input[name=newPassword]");
        chosen.SendKeys("qwertyuiopas");
        Until("#newPassword-strength", s => s.Text.Contains("tried first", StringComparison.Ordinal));
        chosen.Clear();
        chosen.SendKeys("slow-green-gate");
        Until("#newPassword-strength", s => s.Text == "A good password.");
        Assert.Equal("2", Find(".strength").GetDomAttribute("data-step"));
        CheckWithAxe("a password typed");
        chosen.SendKeys(Keys.Enter);
        Until("[role=status]", s => s.Text.StartsWith("Your password is changed", StringComparison.Ordinal));
        CheckConsole();
    }

    [Fact]
    public void Settings_of_the_studio_are_saved_by_script_and_two_tabs_are_told_apart()
    {
        OpenStudio();
        Go("/studio");
        var first = Browser.CurrentWindowHandle;
        Browser.SwitchTo().NewWindow(WindowType.Tab);
        Go("/studio");
        Find("input[name='Form.NoteNames'][value=Flats]").Click();
        Find("form#studio button.button-main").Click();
        Until("[data-state]", s => s.Text == "saved");
        Browser.SwitchTo().Window(first);
        Find("input[name='Form.NoteNames'][value=Sharps]").Click();
        Until("[data-state]", s => s.Text == "not saved yet");
        Find("form#studio button.button-main").Click();
        Until("[data-state]", s => s.Text.StartsWith("not saved", StringComparison.Ordinal) && s.Text != "not saved yet");
        Assert.Contains("another tab", TextOf("[data-state]"), StringComparison.Ordinal);
        // Saving once more, knowingly, keeps one's own.
        Find("form#studio button.button-main").Click();
        Until("[data-state]", s => s.Text == "saved");
        Browser.Navigate().Refresh();
        Assert.True(Find("input[name='Form.NoteNames'][value=Sharps]").Selected);
    }
}
