package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.TimeoutError;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestMethodOrder;
import plenzo.demo.Cluster;
import plenzo.demo.FareDesk;
import plenzo.demo.Story;
import plenzo.demo.Teller;
import plenzo.demo.World;

/** The demo's story on the real service, and the console in a real browser on what it leaves. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class WebConsoleTest {
  private final Started started = new Started();
  private TestService service;
  private Browser browser;
  private final StringWriter told = new StringWriter();
  private Teller teller;
  private String waiting;

  @BeforeAll
  void start() throws IOException {
    service = started.add(new TestService("console"));
    teller = service.teller(told);
    World.setUp(teller, service.places, service.cluster.port(), TestService.ADMIN);
    new Story(teller, service.places).tell();
    waiting = teller.run("bram", 0, "waiting").number("P");
    browser = started.add(new Browser());
  }

  @AfterAll
  void stop() throws IOException {
    started.close();
    StoryChecks.noSecretIsLeft(told.toString(), service.folder);
  }

  /** First of all; then production is as it was, and the same version waits again. */
  @Order(1)
  @Test
  void holdsWhatTheStorySaysAndMore() throws IOException {
    StoryChecks.hold(service, teller);

    String way = teller.run("ines", 0, "rollback", "ways", "fares@production/north").fingerprint();
    teller.run(
        "ines",
        0,
        "rollback",
        "start",
        "fares@production/north",
        "--way",
        "earlier-version",
        "--reason",
        "Tried alone",
        "--wait",
        "--yes",
        "--expect",
        way);
    waiting =
        teller
            .run("ines", 0, "promotion", "prepare", "fares@2.6.1", "--to", "production/north")
            .number("P");
  }

  private Page signedIn(String login) {
    return signedIn(login, World.PASSWORD);
  }

  private Page signedIn(String login, String password) {
    Page page = browser.open(service.address(), 1280, 800, ColorScheme.LIGHT);
    Browser.signIn(page, login, password);
    return page;
  }

  /** Goes on with Tab until the control has the focus, as somebody without a mouse does. */
  private static void tabTo(Page page, Locator control) {
    control.waitFor();
    // what the choice before asked for may still be worked out
    page.waitForCondition(control::isEnabled);
    for (int i = 0; i < 120; i++) {
      if ((Boolean) control.evaluate("e => e === document.activeElement")) {
        return;
      }
      page.keyboard().press("Tab");
    }
    throw new AssertionError("Tab never reached " + control);
  }

  private static Locator button(Page page, String name) {
    return page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name));
  }

  private static void press(Page page, String name) {
    tabTo(page, button(page, name));
    page.keyboard().press("Enter");
  }

  @Test
  void doesTheWholeJobByKeyboard() {
    Page bram = signedIn("bram");
    bram.keyboard().press("g");
    bram.keyboard().press("y");
    Locator link =
        bram.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Approve " + waiting));
    tabTo(bram, link);
    bram.keyboard().press("Enter");
    press(bram, "Approve fares 2.6.1 for Production");
    bram.getByText("said yes").first().waitFor();
    bram.context().close();

    Page ines = signedIn("ines");
    ines.navigate("/promotions/" + waiting);
    press(ines, "Start fares 2.6.1 into Production now");
    ines.waitForURL("**/runs/R-*");
    String run = ines.url();
    ines.context().close();

    Page again = signedIn("tove");
    again.navigate(run);
    again.getByText("2.6.1 is at production/north.").first().waitFor();
    assertThat(
            service.cluster.query(
                "production", "SELECT count(*) FROM fares.concession WHERE code = 'PET'"))
        .containsExactly("1");
    tabTo(again, again.getByLabel("What was seen"));
    again.keyboard().type("Pets pay nothing, and should pay 5.00");
    press(again, "Judge 2.6.1 bad in Production");
    again.getByText("was judged").waitFor();
    again.context().close();

    service.cluster.sql(
        "production",
        "INSERT INTO fares.booking (passenger, band_code, concession_code, price) VALUES ('With a dog', 'FOOT', 'PET', 12.00)");
    Page back = signedIn("ines");
    back.navigate("/rollback/fares/production/north");
    back.getByText("is used by 1 row of fares.booking").first().waitFor();
    tabTo(back, radio(back, "Leave it there"));
    back.keyboard().press("Space");
    back.getByText("Loses nothing").first().waitFor();
    tabTo(back, radio(back, "Re-apply the earlier version"));
    back.keyboard().press("Space");
    tabTo(back, back.getByLabel("Why do you go back?"));
    back.keyboard().type("Pets pay nothing");
    tabTo(back, back.getByLabel("Type fares to confirm"));
    back.keyboard().type("fares");
    press(back, "Put fares back to 2.4.1");
    back.waitForURL("**/runs/R-*");
    back.getByText("production/north is back at 2.4.1.").first().waitFor();
    assertThat(
            service.cluster.query(
                "production", "SELECT count(*) FROM fares.concession WHERE code = 'PET'"))
        .as("a booking uses it, so it was left there")
        .containsExactly("1");
  }

  /**
   * A hand edit is put back by a plan, another one left with a reason, by somebody without a mouse.
   */
  @Test
  void putsBackAndLeavesByKeyboard() {
    service.cluster.sql(
        "test",
        "UPDATE fares.surcharge SET amount = 9.99 WHERE code = 'PEAK'; UPDATE fares.concession SET percent = 76 WHERE code = 'CREW'");
    Page ines = signedIn("ines");
    visit(ines, "/drift/fares/test/main");
    press(ines, "Look now");
    tabTo(ines, checkbox(ines, "Choose row CREW"));
    ines.keyboard().press("Space");
    tabTo(ines, ines.getByLabel("Why it stays"));
    ines.keyboard().type("Crew asked for it");
    tabTo(ines, ines.getByLabel("Until"));
    ines.keyboard().type("12312099");
    press(ines, "Leave as it is");
    ines.getByText("Crew asked for it").waitFor();

    tabTo(ines, checkbox(ines, "Choose row PEAK"));
    ines.keyboard().press("Space");
    press(ines, "Put back 1");
    ines.waitForURL("**/promotions/P-*");
    press(ines, "Put fares 2.7.0 back in Test now");
    ines.waitForURL("**/runs/R-*");
    ines.getByText("put back at test/main is as 2.7.0 has it again.").first().waitFor();
    assertThat(
            service.cluster.query("test", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'"))
        .containsExactly("5.00");
    assertThat(
            service.cluster.query(
                "test", "SELECT percent FROM fares.concession WHERE code = 'CREW'"))
        .containsExactly("76");
    ines.context().close();
  }

  private static Locator checkbox(Page page, String name) {
    return page.getByRole(
        AriaRole.CHECKBOX, new Page.GetByRoleOptions().setName(name).setExact(true));
  }

  private static Locator radio(Page page, String name) {
    return page.getByRole(
            AriaRole.RADIO,
            new Page.GetByRoleOptions().setName(java.util.regex.Pattern.compile(name)))
        .first();
  }

  /** A stage with its connection and site, a path and an application, by the forms alone. */
  @Test
  void setsUpAStageByItsForms() {
    Page admin = signedIn("admin", TestService.ADMIN);
    admin.navigate("/setup/stages");
    Locator stage = form(admin, "Register a stage");
    stage.getByLabel("Key").fill("rehearsing");
    stage.getByLabel("Name").fill("Rehearsing");
    stage.getByRole(AriaRole.BUTTON).getByText("Register the stage").click();
    Locator panel =
        admin.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("Rehearsing"));
    panel.waitFor();

    Locator connection = form(panel, "Add a connection");
    connection.getByLabel("Name").fill("look");
    connection.getByLabel("Host").fill("127.0.0.1");
    connection.getByLabel("Port").fill(String.valueOf(service.cluster.port()));
    connection.getByLabel("Database").fill("test");
    connection.getByLabel("Account").fill("test_look");
    choose(admin, connection, "TLS", "disable");
    connection.getByLabel("Password").fill(Cluster.PASSWORD);
    connection.getByRole(AriaRole.BUTTON).getByText("Save the connection").click();
    panel.getByText("test_look@127.0.0.1").first().waitFor();
    Locator site = form(panel, "Add a site");
    site.getByLabel("Site").fill("main");
    site.getByLabel("Schemas").fill("fares");
    choose(admin, site, "Looking", "look");
    site.getByRole(AriaRole.BUTTON).getByText("Add the site").click();
    panel.getByText("Test the connections of rehearsing/main").click();

    // the database is that of test, so its marker says so: red, with the reason
    panel.getByText("This database says it is test/main").waitFor();
    assertThat(panel.getByText(Cluster.PASSWORD).count()).isZero();
    admin.context().close();
  }

  private static Locator form(Page page, String name) {
    return opened(page.getByText(name, new Page.GetByTextOptions().setExact(true)))
        .getByRole(AriaRole.FORM, new Locator.GetByRoleOptions().setName(name));
  }

  private static Locator form(Locator in, String name) {
    Locator folded = in.locator("summary").getByText("Change Rehearsing, its sites");
    if (!(Boolean) folded.evaluate("e => e.parentElement.open")) {
      folded.click();
    }
    return opened(in.getByText(name, new Locator.GetByTextOptions().setExact(true)))
        .getByRole(AriaRole.FORM, new Locator.GetByRoleOptions().setName(name));
  }

  /** Opens a folded part and gives it. */
  private static Locator opened(Locator summary) {
    summary.click();
    return summary.locator("xpath=ancestor::details[1]");
  }

  private static void choose(Page page, Locator in, String label, String option) {
    in.getByLabel(label).click();
    page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName(option).setExact(true))
        .click();
  }

  /**
   * A draft is begun from an earlier version, its order moved, and it becomes a version: the next
   * minor number is taken, so a patch is proposed.
   */
  @Test
  void draftsMovesAndSeals() {
    Page ines = signedIn("ines");
    visit(ines, "/versions/fares/2.3.0");
    button(ines, "Start a draft from 2.3.0").click();
    ines.waitForURL("**/drafts/D-*");
    String conditions = "file/fares/conditions.txt";
    String poster = "file/fares/summer/poster.txt";
    for (String picked : List.of(conditions, poster)) {
      ines.getByLabel(picked).click();
      ines.getByText("chosen; not read yet").nth(picked.equals(conditions) ? 0 : 1).waitFor();
    }
    button(ines, "Check every pick at the source").click();

    button(ines, "Write " + poster + " before " + conditions).click();
    button(ines, "Write " + conditions + " before " + poster).waitFor();
    ines.getByLabel("Title").fill("Summer poster");
    button(ines, "Seal fares 2.3.1").click();
    ines.waitForURL("**/versions/fares/2.3.1");
    ines.getByText(poster + " before " + conditions).waitFor();
    ines.getByText("Holds ").first().waitFor();
    button(ines, "Prepare a promotion of 2.3.1").click();
    ines.getByText("2.3.1 Summer poster").waitFor();
    ines.getByText("Choose where it goes.").waitFor();

    // what a team keeps in a repository is looked for there, not at an editing stage
    visit(ines, "/versions/boarding/1.0.0");
    button(ines, "Start a draft from 1.0.0").click();
    ines.waitForURL("**/drafts/D-*");
    ines.getByText("by Sanna Voss <").waitFor();
    ines.getByLabel("rule/boarding.lane-choice").waitFor();
    ines.context().close();
  }

  /** A site is given a value, a version becomes a file, and what is off is switched on. */
  @Test
  void bindsBuildsAndSwitchesOn() {
    Page ines = signedIn("ines");
    visit(ines, "/applications/fares");
    ines.getByLabel("New value").last().fill("380.00");
    button(ines, "Set fare-ceiling").click();
    ines.getByText("380.00").waitFor();
    ines.getByLabel("New value").last().fill("a lot");
    button(ines, "Set fare-ceiling").click();
    ines.getByText("The value of fare-ceiling is no number.").waitFor();

    visit(ines, "/versions/fares/2.4.1");
    button(ines, "Build its package").click();
    ines.waitForURL("**/packages");
    ines.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("fares-2.4.1.zip"))
        .first()
        .waitFor();
    button(ines, "What it holds").first().click();
    ines.getByText("Night surcharge corrected").first().waitFor();
    ines.context().close();
  }

  /** A value that was set anew reaches its host by a plan that moves nothing else. */
  @Test
  void givesAValueByKeyboard() {
    Teller teller = service.teller(new StringWriter());
    teller.signIn("ines", World.PASSWORD);
    teller.run(
        "ines",
        0,
        "binding",
        "set",
        "fares",
        "terminal-address",
        "--at",
        "production/south",
        "--value",
        "https://terminal.pier.example");
    Page ines = signedIn("ines");
    visit(ines, "/applications/fares");
    press(ines, "Give production/south its values");
    ines.waitForURL("**/promotions/P-*");
    String plan = ines.url();
    ines.getByText("https://terminal.pier.example").first().waitFor();

    Page bram = signedIn("bram");
    bram.navigate(plan);
    press(bram, "Approve fares 2.4.0 for Production");
    bram.getByText("said yes").first().waitFor();
    bram.context().close();

    ines.navigate(plan);
    press(ines, "Give fares 2.4.0 its values in Production now");
    ines.waitForURL("**/runs/R-*");
    ines.getByText("production/south was given its values for 2.4.0.").first().waitFor();
    assertThat(service.places.host("production/south").post("/quote", FareDesk.QUESTION))
        .contains("https://terminal.pier.example");

    ines.navigate("/rollback/fares/production/south");
    radio(ines, "Give the earlier values again").waitFor();
    tabTo(ines, radio(ines, "Give the earlier values again"));
    ines.keyboard().press("Space");
    tabTo(ines, ines.getByLabel("Why do you go back?"));
    ines.keyboard().type("Nobody answers there");
    tabTo(ines, ines.getByLabel("Type fares to confirm"));
    ines.keyboard().type("fares");
    press(ines, "Give production/south its earlier values");
    ines.waitForURL("**/runs/R-*");
    ines.getByText("production/south has the values again that it had before").first().waitFor();
    assertThat(service.places.host("production/south").post("/quote", FareDesk.QUESTION))
        .contains("https://terminal.south.example");
    ines.context().close();
  }

  /**
   * A release goes on from test to the other site of production: judged, prepared, approved,
   * started as one.
   */
  @Test
  void takesAReleaseIntoProduction() {
    Teller teller = service.teller(new StringWriter());
    teller.signIn("tove", World.PASSWORD);
    // the evening sailing that the night missed is back, and the southern pier gets its lanes
    service.cluster.sql(
        "south", "INSERT INTO sailings.timetable VALUES ('PETREL', '19:40', 'S1', 'Fri Sun', 4)");
    teller.signIn("ines", World.PASSWORD);
    teller.run(
        "ines", 0, "app", "match", "boarding", "--site", "production/south", "--number", "0.0.0");
    for (String version : List.of("boarding@1.1.0", "sailings@1.9.0")) {
      teller.run(
          "tove", 0, "version", "verdict", version, "--site", "test", "--good", "--reason", "Seen");
    }
    Page ines = signedIn("ines");
    visit(ines, "/releases/gates");
    choose(ines, ines.locator("main"), "To", "production/south");
    button(ines, "Prepare and compare at production/south").click();
    Locator south =
        ines.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("At production/south"));
    south.getByText("may be given by bram").first().waitFor();

    Page bram = signedIn("bram");
    visit(bram, "/waiting");
    bram.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Approve release gates"))
        .click();
    button(bram, "Approve Gates and lanes for production/south").click();
    bram.getByText("You approved every member that you may approve.").first().waitFor();
    bram.context().close();

    button(ines, "Start Gates and lanes at production/south now").click();
    south.getByText("Every member is there").waitFor();
    assertThat(south.getByText(java.util.regex.Pattern.compile("^R-\\d+$")).allTextContents())
        .hasSize(2);
    assertThat(
            service.cluster.query(
                "south", "SELECT capacity FROM sailings.vessel WHERE code = 'TERN'"))
        .containsExactly("184");
    ines.context().close();
  }

  /**
   * On a slow line the first page is there soon, and the next one comes from the browser's cache.
   */
  @Test
  void theFirstViewIsSmallAndTheNextIsKept() {
    Page page = signedIn("ines");
    page.context().newPage();
    visit(page, "/standing");
    page.getByRole(AriaRole.TABLE).waitFor();

    assertThat(transferred(page, "/assets/")).as("bytes of files that were there already").isZero();
    page.context().close();
  }

  /** Bytes that came over the wire for what the page loaded, answers that were kept left out. */
  private static long transferred(Page page, String of) {
    return ((Number)
            page.evaluate(
                "of => performance.getEntriesByType('resource').filter(r => r.name.includes(of))"
                    + ".reduce((all, r) => all + r.transferSize, 0)",
                of))
        .longValue();
  }

  /** What was compressed when the console was built is what lies there. */
  @Test
  void compressedFilesAreThePlainOnes() throws Exception {
    HttpClient http = HttpClient.newHttpClient();
    Matcher files =
        Pattern.compile("assets/[A-Za-z0-9_-]+\\.js")
            .matcher(new String(get(http, "/", "identity").body(), StandardCharsets.UTF_8));
    int compared = 0;
    while (files.find()) {
      HttpResponse<byte[]> packed = get(http, "/" + files.group(), "gzip");
      assertThat(packed.headers().firstValue("Content-Encoding")).contains("gzip");
      assertThat(packed.headers().firstValue("Cache-Control").orElse("")).contains("immutable");
      assertThat(new GZIPInputStream(new ByteArrayInputStream(packed.body())).readAllBytes())
          .as(files.group())
          .isEqualTo(get(http, "/" + files.group(), "identity").body());
      compared++;
    }
    assertThat(compared).isPositive();
  }

  private HttpResponse<byte[]> get(HttpClient http, String path, String encoding)
      throws IOException, InterruptedException {
    return http.send(
        HttpRequest.newBuilder(URI.create(service.address() + path))
            .header("Accept-Encoding", encoding)
            .build(),
        HttpResponse.BodyHandlers.ofByteArray());
  }

  @Test
  void findsRowsOfAComparisonAndKeepsTheirPlaceInTheAddress() {
    Page ines = signedIn("ines");
    visit(ines, "/promotions/P-2?part=comparison");
    button(ines, "records/fares.fare_band").click();
    ines.getByLabel("Find in changed").fill("trail");

    ines.getByText("1 row on this page").waitFor();
    assertThat(ines.getByText("TRAILER").first().isVisible()).isTrue();
    assertThat(ines.url()).contains("component=");
    ines.context().close();
  }

  /** Where people spend their day. */
  private static final Map<String, List<String>> DAILY =
      Map.of(
          "ines",
          List.of(
              "/standing",
              "/waiting",
              "/promotions",
              "/promotions/P-2",
              "/promotions/P-2?part=comparison",
              "/promotions/P-2?part=findings",
              "/promotions/P-2?part=plan",
              "/runs/R-3",
              "/history",
              "/setup",
              "/drafts/D-1",
              "/rollback/fares/production",
              "/drift/fares/test/main",
              "/applications/fares",
              "/versions/fares/2.4.0",
              "/calendar",
              "/waves/W-1"),
          "admin",
          List.of("/setup/people"));

  /** The others. */
  private static final Map<String, List<String>> OTHERS =
      Map.of(
          "ines",
          List.of(
              "/runs",
              "/news",
              "/figures",
              "/runs/R-2/night",
              "/setup/stages",
              "/setup/stages/test",
              "/setup/connections/test/look",
              "/setup/paths",
              "/setup/paths/ordinary",
              "/setup/applications",
              "/setup/values",
              "/applications/fares/values/test/fare-ceiling",
              "/drafts",
              "/versions/boarding/1.1.0",
              "/rollback/fares/test/main",
              "/backups",
              "/standing/past?day=2026-11-28",
              "/drift/fares/production/south",
              "/compare/fares/production/north?with=test/main",
              "/promotions/P-17",
              "/versions/fares/2.3.0/compare/2.4.0",
              "/packages",
              "/releases",
              "/releases/gates",
              "/applications/boarding",
              "/applications/fares/adopt",
              "/waves",
              "/setup/paths/night",
              "/runs/R-12",
              "/runs/R-12/try",
              "/promotions/P-15?part=plan",
              "/you"),
          "admin",
          List.of(
              "/setup/people/ines",
              "/setup/roles",
              "/setup/roles/approver",
              "/setup/proposals",
              "/setup/telling",
              "/setup/keys",
              "/you"));

  @Test
  void isCleanForAxeAndFitsAtANarrowWidth() throws IOException {
    cleanAndFitting(DAILY);
  }

  @Tag("nightly")
  @Test
  void isCleanForAxeAndFitsAtANarrowWidthEverywhereElse() throws IOException {
    cleanAndFitting(OTHERS);
  }

  private void cleanAndFitting(Map<String, List<String>> pages) throws IOException {
    String axe = axe();
    eachOf(
        pages,
        (page, path, wrong) -> {
          inject(page, axe);
          look(page, "{resultTypes: ['violations']}", "light " + path, wrong);
          fits(page, 320, path, wrong);
        });
  }

  /** Nothing but the colours is another: parts are looked at in both by the console's own tests. */
  @Tag("nightly")
  @Test
  void isCleanForAxeInTheDarkAndFitsAtTwiceTheSize() throws IOException {
    String axe = axe();
    for (Map<String, List<String>> pages : List.of(DAILY, OTHERS)) {
      eachOf(
          pages,
          (page, path, wrong) -> {
            inject(page, axe);
            page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(ColorScheme.DARK));
            look(page, "{runOnly: ['color-contrast']}", "dark " + path, wrong);
            page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(ColorScheme.LIGHT));
            fits(page, 640, path, wrong); // 1280 at 200 % zoom
          });
    }
  }

  private static String axe() throws IOException {
    return Files.readString(Path.of("../console/node_modules/axe-core/axe.min.js"));
  }

  /** Evaluated by the debugger: the page's own policy against foreign script stays on. */
  private static void inject(Page page, String axe) {
    if (!(Boolean) page.evaluate("() => typeof axe === 'object'")) {
      page.evaluate(axe + "; undefined");
    }
  }

  /** What is wrong with a page is added to the last. */
  private interface Looking {
    void at(Page page, String path, List<String> wrong);
  }

  private void eachOf(Map<String, List<String>> pages, Looking looking) {
    List<String> wrong = new ArrayList<>();
    pages.forEach(
        (login, theirs) -> {
          Page page = browser.open(service.address(), 1280, 800, ColorScheme.LIGHT);
          Browser.signIn(page, login, password(login));
          for (String path : theirs) {
            go(page, path);
            looking.at(page, path, wrong);
            page.setViewportSize(1280, 800);
          }
          page.context().close();
        });
    assertThat(wrong).isEmpty();
  }

  private static void look(Page page, String how, String where, List<String> wrong) {
    Object found =
        page.evaluate(
            "async () => (await axe.run(document, "
                + how
                + ")).violations.map(v => v.id + ': ' + v.nodes.map(n => n.target.join(' ') + ' ' + n.failureSummary).slice(0, 3).join(' | '))");
    ((List<?>) found).forEach(v -> wrong.add(where + " " + v));
  }

  private static void fits(Page page, int wide, String path, List<String> wrong) {
    page.setViewportSize(wide, 640);
    String width = "document.documentElement.scrollWidth";
    try {
      // another layout takes the page a moment
      page.waitForCondition(
          () -> ((Number) page.evaluate(width)).intValue() <= wide,
          new Page.WaitForConditionOptions().setTimeout(5_000));
    } catch (TimeoutError e) {
      wrong.add(wide + " px " + path + " needs " + page.evaluate(width));
    }
  }

  private static String password(String login) {
    return login.equals("admin") ? TestService.ADMIN : World.PASSWORD;
  }

  /** As a link leads there, without loading the console anew, where the page is another one. */
  private static void go(Page page, String path) {
    if (URI.create(page.url()).getPath().equals(path.replaceFirst("\\?.*", ""))) {
      visit(page, path); // another part of the same page
      return;
    }
    page.evaluate(
        """
        path => {
          document.querySelector('h1').dataset.left = 'yes';
          history.pushState(null, '', path);
          dispatchEvent(new PopStateEvent('popstate', { state: null }));
        }
        """,
        path);
    try {
      page.locator("h1:not([data-left])").waitFor(new Locator.WaitForOptions().setTimeout(2_000));
    } catch (TimeoutError e) {
      page.navigate(path); // the same page with other contents keeps its head
    }
    settled(page);
  }

  private static void visit(Page page, String path) {
    page.navigate(path);
    settled(page);
  }

  private static void settled(Page page) {
    page.locator("h1").waitFor();
    // asked from outside: a page that evaluates what it is to wait for breaks its own policy
    page.waitForCondition(
        () -> (Boolean) page.evaluate("() => !document.body.innerText.includes('Loading ')"));
  }

  @Test
  void saysWhyAControlCannotBeUsed() {
    Page odile = signedIn("odile");
    odile.navigate("/promotions/P-2");

    odile.locator("h1").waitFor();
    odile.navigate("/rollback/fares/production/north");
    Locator go =
        odile.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Put fares back"));
    go.waitFor();

    assertThat(go.getAttribute("aria-disabled")).isEqualTo("true");
    assertThat(odile.getByText("odile lacks the right \"go-back\"").first().isVisible()).isTrue();
  }
}
