// What every page says when something fails: failed requests are said, never swallowed, and a fragment is only what was asked for, never another page.
import { showState } from "./forms.js";

export function say(message, signedOut) { showState(document.getElementById("said"), message, signedOut); }

/** Says what changed on the page in one line, for those who do not see it; the same twice is said once. */
export function sayChanged(words) {
  const line = document.getElementById("changed");
  if (line && line.textContent !== words) line.textContent = words;
}

/** Says what htmx meets on this page. */
export function sayFailures() {
  document.addEventListener("htmx:error", () => say("The server does not answer. What you see may be old; it is asked again with your next step."));
  document.addEventListener("htmx:response:error", event => {
    const status = event.detail.ctx?.response?.status;
    if (status === 401) say("You are signed out. Go on here once you are signed in again:", true);
    else say(status === 404 ? "This is not there any more; load the page again." : "The server cannot show this just now. What you see may be old; try again in a moment.");
  });
  document.addEventListener("htmx:before:response", event => {
    if (!event.detail.ctx?.response?.raw?.redirected) return;
    event.preventDefault();
    say("You are signed out. Go on here once you are signed in again:", true);
  });
  document.addEventListener("htmx:after:swap", event => {
    say("");
    // A part of the page names itself by its heading, or says in words what it holds.
    const part = event.detail?.ctx?.target ?? event.target;
    const words = part?.dataset?.changed ?? part?.querySelector?.("h2")?.textContent.trim();
    if (words) sayChanged(words);
  });
}
