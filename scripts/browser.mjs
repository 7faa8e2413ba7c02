// Drives headless Chromium for the scripts that look at Tembri.
import { spawn } from "node:child_process";

/** Opens a browser. Answers what a script needs of it; `base` is put before addresses without a host. */
export async function browser(base, ...more) {
  const driverPort = 9700 + Math.floor(Math.random() * 200);
  const driver = spawn("chromedriver", [`--port=${driverPort}`], { stdio: "ignore", detached: true });
  // However this ends, the browser ends with it.
  process.on("exit", () => { try { process.kill(-driver.pid); } catch { /* it went already */ } });
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => process.exit(1));
  const call = async (method, path, body) => {
    const answer = await fetch(`http://127.0.0.1:${driverPort}${path}`, { method, body: body && JSON.stringify(body), headers: { "content-type": "application/json" } });
    const { value } = await answer.json();
    if (value?.error) throw new Error(`${path}: ${value.message}`);
    return value;
  };
  for (let i = 0; i < 50; i++) {
    try { await call("GET", "/status"); break; } catch { await new Promise(r => setTimeout(r, 100)); }
  }
  const { sessionId } = await call("POST", "/session", { capabilities: { alwaysMatch: { "goog:chromeOptions": {
    binary: "/usr/bin/chromium",
    args: ["--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu", "--hide-scrollbars", "--force-device-scale-factor=1", "--window-size=1280,800",
      "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-extensions", ...more],
  } } } });
  const session = `/session/${sessionId}`;
  const run = (script, ...args) => call("POST", `${session}/execute/sync`, { script, args });
  const go = url => call("POST", `${session}/url`, { url: url.startsWith("http") ? url : base + url });
  const settle = async test => {
    for (let i = 0; i < 160; i++) {
      if (await run(`return document.readyState === "complete" && document.fonts.status === "loaded" && (${test ?? "true"})`)) return;
      await new Promise(r => setTimeout(r, 50));
    }
    throw new Error(`The page did not settle: ${test}`);
  };
  const click = async selector => {
    const element = await call("POST", `${session}/element`, { using: "css selector", value: selector });
    await call("POST", `${session}/element/${Object.values(element)[0]}/click`, {});
  };
  const size = (width, height) => call("POST", `${session}/goog/cdp/execute`, { cmd: "Emulation.setDeviceMetricsOverride", params: { width, height, deviceScaleFactor: 1, mobile: false } });
  const end = async () => {
    await call("DELETE", session).catch(() => {});
    driver.kill();
  };
  const runAsync = (script, ...args) => call("POST", `${session}/execute/async`, { script, args });
  return { call, session, run, runAsync, go, settle, click, size, end };
}
