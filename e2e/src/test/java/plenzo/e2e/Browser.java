package plenzo.e2e;

import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.options.ColorScheme;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/** Headless Chromium, the one that is installed; nothing is downloaded. */
final class Browser implements AutoCloseable {
  private static final List<String> ARGS =
      List.of(
          "--no-sandbox",
          "--disable-gpu",
          "--disable-quic",
          "--no-first-run",
          "--disable-background-networking",
          "--disable-component-update",
          "--disable-sync");

  private final Playwright playwright;
  private final com.microsoft.playwright.Browser chromium;

  Browser() {
    playwright =
        Playwright.create(
            new Playwright.CreateOptions().setEnv(Map.of("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")));
    Path path =
        List.of("/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome").stream()
            .map(Path::of)
            .filter(Files::exists)
            .findFirst()
            .orElseThrow(
                () ->
                    new IllegalStateException("Chromium is missing: apt-get install -y chromium"));
    chromium =
        playwright
            .chromium()
            .launch(new BrowserType.LaunchOptions().setExecutablePath(path).setArgs(ARGS));
  }

  /** A new person's browser: nothing remembered. */
  Page open(String address, int width, int height, ColorScheme scheme) {
    BrowserContext context =
        chromium.newContext(
            new com.microsoft.playwright.Browser.NewContextOptions()
                .setViewportSize(width, height)
                .setColorScheme(scheme)
                .setBaseURL(address)
                .setReducedMotion(com.microsoft.playwright.options.ReducedMotion.REDUCE));
    Page page = context.newPage();
    page.setDefaultTimeout(180_000); // several services share two cores
    return page;
  }

  static void signIn(Page page, String login, String password) {
    page.navigate("/");
    page.getByLabel("Name").fill(login);
    page.getByLabel("Password").fill(password);
    page.getByRole(
            com.microsoft.playwright.options.AriaRole.BUTTON,
            new Page.GetByRoleOptions().setName("Sign in"))
        .click();
    page.getByRole(
            com.microsoft.playwright.options.AriaRole.HEADING,
            new Page.GetByRoleOptions().setName("Where things stand"))
        .waitFor();
  }

  @Override
  public void close() {
    chromium.close();
    playwright.close();
  }
}
