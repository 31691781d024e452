package plenzo.e2e;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.io.PrintWriter;
import java.io.Writer;
import java.nio.file.Path;
import java.util.List;
import plenzo.demo.Teller;

/** Takes pictures of a running demo: {@code bin/screenshots ADDRESS FOLDER}. */
public final class Screenshots {
  private Screenshots() {}

  public static void main(String[] args) {
    String address = args[0];
    Path folder = Path.of(args[1]);
    boolean all = args.length > 2;
    try (Browser browser = new Browser()) {
      Page ines = browser.open(address, 1280, 800, ColorScheme.LIGHT);
      ines.navigate("/");
      ines.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("Sign in to Plenzo"))
          .waitFor();
      if (all) {
        shot(ines, folder, "sign-in");
      }
      Browser.signIn(ines, "ines", plenzo.demo.World.PASSWORD);
      shoot(ines, folder, "standing", "/standing");
      shoot(ines, folder, "set-up", "/setup/connections/test/look");
      shoot(ines, folder, "application", "/applications/fares");
      shoot(ines, folder, "draft", "/drafts/D-1");
      shoot(ines, folder, "comparison", "/promotions/P-2?part=comparison&component=11");
      shoot(ines, folder, "findings", "/promotions/P-2?part=findings");
      shoot(ines, folder, "plan", "/promotions/P-2?part=plan");
      shoot(ines, folder, "run", "/runs/R-6");
      shoot(ines, folder, "waves", "/waves/W-1");
      shoot(ines, folder, "release", "/releases/gates");
      shoot(ines, folder, "rollback", "/rollback/fares/production/north");
      shoot(ines, folder, "calendar", "/calendar");
      shoot(ines, folder, "figures", "/figures");
      shoot(ines, folder, "drift", "/drift/fares/production/south");
      Teller teller = new Teller(address, new PrintWriter(Writer.nullWriter()));
      teller.signIn("ines", plenzo.demo.World.PASSWORD);
      if (all) {
        shoot(ines, folder, "draft-open", "/drafts/" + openDraft(teller));
        shoot(ines, folder, "packages", "/packages");
        shoot(ines, folder, "promotions", "/promotions");
        shoot(ines, folder, "runs", "/runs");
        shoot(ines, folder, "drafts", "/drafts");
        shoot(ines, folder, "adopt", "/applications/fares/adopt");
        shoot(ines, folder, "stopped", "/runs/R-2");
        shoot(ines, folder, "version", "/versions/boarding/1.1.0");
        shoot(ines, folder, "versions-compared", "/versions/fares/2.3.0/compare/2.4.0");
        shoot(ines, folder, "releases", "/releases");
        shoot(ines, folder, "boarding", "/applications/boarding");
        shoot(ines, folder, "rollback-loses", "/rollback/fares/production/north?version=2.3.0");
      }
      Page terminal = browser.open(address, 1280, 800, ColorScheme.DARK);
      for (String command : List.of("standing", "promotion show P-15", "promotion compare P-2")) {
        TerminalPicture.draw(
            terminal,
            "plenzo " + command,
            teller.onTerminal("ines", command.split(" ")),
            folder.resolve("cli-" + command.split(" ")[0] + suffix(command) + ".png"));
      }
      Page bram = browser.open(address, 1280, 800, ColorScheme.DARK);
      Browser.signIn(bram, "bram", plenzo.demo.World.PASSWORD);
      shoot(bram, folder, "waiting-dark", "/waiting");
      String waiting =
          bram.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Approve"))
              .first()
              .getAttribute("href");
      shoot(bram, folder, "approve-dark", waiting);
      if (all) {
        shoot(bram, folder, "run-dark", "/runs/R-6");
        shoot(bram, folder, "application-dark", "/applications/fares");
        shoot(bram, folder, "standing-dark", "/standing");
        shoot(bram, folder, "release-dark", "/releases/gates");
      }
      Page narrow = browser.open(address, 320, 700, ColorScheme.LIGHT);
      Browser.signIn(narrow, "ines", plenzo.demo.World.PASSWORD);
      if (all) {
        shoot(narrow, folder, "standing-narrow", "/standing");
        shoot(narrow, folder, "drift-narrow", "/drift/fares/production/south");
        shoot(narrow, folder, "approve-narrow", "/promotions/P-2");
        shoot(narrow, folder, "run-narrow", "/runs/R-6");
        shoot(narrow, folder, "packages-narrow", "/packages");
        shoot(narrow, folder, "release-narrow", "/releases/gates");
        shoot(narrow, folder, "application-narrow", "/applications/fares");
      }
    }
  }

  private static String suffix(String command) {
    String[] words = command.split(" ");
    return words.length > 1 ? "-" + words[1] : "";
  }

  /** A draft with several picks whose order can be moved. */
  private static String openDraft(Teller teller) {
    String begun = teller.run("ines", 0, "draft", "new", "fares", "--from", "2.3.0").out();
    String id = begun.replaceFirst("(?s).*?(D-[0-9]+).*", "$1");
    teller.run(
        "ines",
        0,
        "draft",
        "add",
        id,
        "rule/fares.night-crossing",
        "form/fares.quote",
        "file/fares/prices.html",
        "--site",
        "development");
    teller.run("ines", 0, "draft", "check", id);
    return id;
  }

  private static void shoot(Page page, Path folder, String name, String path) {
    page.navigate(path);
    page.locator("h1").waitFor();
    page.waitForLoadState();
    page.waitForCondition(
        () -> (Boolean) page.evaluate("() => !document.body.innerText.includes('Loading ')"));
    // pages that were left a moment ago may still count among the streams of their reader
    page.waitForFunction("() => !document.body.innerText.includes('Not connected')");
    shot(page, folder, name);
  }

  /** Where the sample world lies on a machine is shown as it would be anywhere. */
  private static final String ANYWHERE =
      """
      () => {
        const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
        while (walk.nextNode()) {
          walk.currentNode.data = walk.currentNode.data.replace(/\\/\\S*\\/\\.demo\\/world\\/sites/g, '/srv/morrowick');
        }
      }
      """;

  private static void shot(Page page, Path folder, String name) {
    page.evaluate(ANYWHERE);
    page.screenshot(new Page.ScreenshotOptions().setPath(folder.resolve(name + ".png")));
  }
}
