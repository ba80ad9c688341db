"""Debian's Chromium, headless, asking nothing of any network."""

CHROMIUM = "/usr/bin/chromium"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-dev-shm-usage",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-default-apps",
    "--no-first-run",
    "--no-default-browser-check",
    "--metrics-recording-only",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
    "--font-render-hinting=none",
    "--disable-features=Translate,OptimizationHints,MediaRouter",
]


def launch(playwright, mapped=""):
    """mapped: a host name that leads to this machine, as a phone's browser would see it: no secure
    context.
    """
    rules = "MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost"
    rules = f"MAP {mapped} 127.0.0.1, {rules}" if mapped else rules
    return playwright.chromium.launch(
        executable_path=CHROMIUM, args=[*ARGUMENTS, f"--host-resolver-rules={rules}"]
    )
