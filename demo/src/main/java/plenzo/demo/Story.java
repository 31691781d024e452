package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/**
 * The story of the sample world, told through the client; each chapter is asserted by SQL of its
 * own.
 */
public final class Story {
  private final Teller t;
  private static final String NORTH = "production/north";
  private static final String SOUTH = "production/south";

  private final Places places;
  private final Cluster cluster;
  private Instant whileBad = Instant.EPOCH;

  public Story(Teller teller, Places places) {
    this.t = teller;
    this.places = places;
    this.cluster = places.cluster();
  }

  /**
   * @throws IllegalStateException when a command or a stage is not as the story says
   */
  public void tell() {
    adopt();
    firstVersion();
    wrongMoment();
    south();
    badVersion();
    hotfix();
    boarding();
    handOver();
    ending();
    new Night(t, places).tell();
    new Week(t, places).tell();
    whole();
  }

  private void expect(String database, String sql, String... rows) {
    List<String> found = cluster.query(database, sql);
    if (!Objects.equals(found, List.of(rows))) {
      throw new IllegalStateException(
          "In "
              + database
              + ", "
              + sql
              + "\n  should give "
              + List.of(rows)
              + "\n  and gives   "
              + found);
    }
  }

  private void adopt() {
    t.say(
        "What production already holds is adopted; the other stages are matched. Nothing is written but the marker");
    t.run("ines", 0, "app", "candidates", "fares", "--site", NORTH);
    t.run(
        "ines",
        0,
        "app",
        "adopt",
        "fares",
        "--site",
        NORTH,
        "--number",
        "2.3.0",
        "--title",
        "What production held",
        "--everything",
        "--records",
        "fares.fare_band",
        "--records",
        "fares.concession",
        "--records",
        "fares.surcharge");
    t.run("ines", 0, "app", "match", "fares", "--site", SOUTH, "--number", "2.3.0");
    t.run("ines", 0, "app", "match", "fares", "--site", "test", "--number", "2.3.0");
    t.run(
        "ines",
        0,
        "app",
        "adopt",
        "sailings",
        "--site",
        NORTH,
        "--number",
        "1.8.0",
        "--title",
        "What production held",
        "--everything",
        "--records",
        "sailings.vessel",
        "--records",
        "sailings.berth",
        "--records",
        "sailings.timetable");
    t.run("ines", 0, "app", "match", "sailings", "--site", SOUTH, "--number", "1.8.0");
    t.run("ines", 0, "app", "match", "sailings", "--site", "test", "--number", "1.8.0");
    t.run("ines", 0, "standing");
    expect("production", "SELECT stage, site FROM plenzo.marker", "production|north");
    expect("production", "SELECT count(*) FROM plenzo.run_mark", "0");
  }

  /** Seals what was picked in development. */
  private void seal(String from, String number, String title, String... components) {
    String draft = t.run("ines", 0, "draft", "new", "fares", "--from", from).number("D");
    String[] add = new String[components.length + 5];
    add[0] = "draft";
    add[1] = "add";
    add[2] = draft;
    System.arraycopy(components, 0, add, 3, components.length);
    add[components.length + 3] = "--site";
    add[components.length + 4] = "development";
    t.run("ines", 0, add);
    t.run("ines", 0, "draft", "check", draft);
    t.run("ines", 0, "draft", "seal", draft, "--number", number, "--title", title);
  }

  /** What a foot passenger is asked to pay for a night crossing at a site. */
  private void expectQuote(String site, String amount) {
    String answer = places.host(site).post("/quote", FareDesk.QUESTION);
    if (!answer.contains("\"amount\":\"" + amount + "\"")) {
      throw new IllegalStateException(
          "At " + site + " a quote should be " + amount + " and is " + answer);
    }
  }

  private void expectFile(String site, String name, String part) {
    try {
      String text = Files.readString(places.published(site).resolve(name));
      if (!text.contains(part)) {
        throw new IllegalStateException(
            "At " + site + ", " + name + " should have \"" + part + "\" and is " + text);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("At " + site + ", " + name + " cannot be read", e);
    }
  }

  private void bind(String place, String name) {
    t.run(
        "ines",
        0,
        "binding",
        "set",
        "fares",
        "terminal-address",
        "--at",
        place,
        "--value",
        "https://terminal." + name + ".example");
    t.withInput(
        "ines",
        0,
        "key-of-" + name,
        "binding",
        "set",
        "fares",
        "terminal-key",
        "--at",
        place,
        "--secret-stdin");
  }

  private void toTest(String number, String seen) {
    String p =
        t.run("ines", 0, "promotion", "prepare", "fares@" + number, "--to", "test").number("P");
    t.run("ines", 0, "run", "start", p, "--wait");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@" + number,
        "--site",
        "test",
        "--good",
        "--reason",
        seen);
  }

  private void firstVersion() {
    t.say(
        "Development adds a column, two concessions and a changed surcharge, and what the boards at the terminals show: a view, its routine, a trigger; in its host a rule, in its files a poster");
    edit("rule", "fares.night-crossing", FareDesk.night("1.15"));
    edit("rule", "fares.ceiling", FareDesk.ceiling());
    edit("integration", "fares.card-terminal", FareDesk.terminal("2"));
    FareDesk.write(
        places.published("development/main"),
        "fares/conditions.txt",
        "Conditions of carriage\n\n1. Tickets are personal.\n2. Pets travel on deck.\n3. Bicycles are free.\n");
    FareDesk.write(
        places.published("development/main"), "fares/summer/poster.txt", "Summer crossings\n");
    cluster.sql(
        "development",
        "SET ROLE development_change; ALTER TABLE fares.fare_band ADD COLUMN bicycle_price numeric(6,2) NOT NULL DEFAULT 0; UPDATE fares.fare_band SET bicycle_price = 3.50 WHERE code = 'FOOT';"
            + " INSERT INTO fares.concession VALUES ('YOUTH', 'Youth, 16 to 25', 15), ('ISLAND', 'Islander', 50); UPDATE fares.surcharge SET amount = 5.00 WHERE code = 'PEAK'");
    board();
    t.run("ines", 0, "component", "changed-since", "fares@2.3.0", "--site", "development");
    seal(
        "2.3.0",
        "2.4.0",
        "Summer fares",
        "records/fares.fare_band",
        "records/fares.concession",
        "records/fares.surcharge",
        "view/fares.price_board",
        "trigger/fares.booking.tidy_passenger",
        "rule/fares.night-crossing",
        "rule/fares.ceiling",
        "integration/fares.card-terminal",
        "file/fares/conditions.txt",
        "file/fares/summer/poster.txt");
    t.say("2.4.0 needs a card terminal: test says where its own is, and the key of it");
    bind("test", "test");
    t.run("ines", 0, "binding", "list", "fares", "--site", "test");
    t.say("2.4.0 goes to test and is judged good");
    expectQuote("test/main", "13.20");
    toTest("2.4.0", "Quotes of three crossings checked, bicycles included");
    expectQuote("test/main", "13.80");
    expectFile("test/main", "fares/conditions.txt", "on deck");
    t.run("ines", 0, "state", "list", "fares@test");
    t.run("ines", 0, "state", "on", "fares@test", "rule/fares.ceiling", "--reason", "Seen in test");
    expect("test", "SELECT bicycle_price FROM fares.fare_band WHERE code = 'FOOT'", "3.50");
    expect("test", "SELECT count(*) FROM fares.concession", "6");
    expectBoard("test");
    expect("test", "SELECT count(*) FROM fares.booking", "400");
  }

  /** What the boards at the terminals show, and names without blanks around them. */
  private void board() {
    for (String sql :
        List.of(
            "CREATE FUNCTION fares.crossing_price(band text, surcharge text) RETURNS numeric LANGUAGE sql STABLE AS 'SELECT b.base_price + s.amount FROM fares.fare_band b, fares.surcharge s WHERE b.code = band AND s.code = surcharge'",
            "CREATE VIEW fares.price_board AS SELECT code, name, base_price, fares.crossing_price(code, 'PEAK') AS peak_price, bicycle_price FROM fares.fare_band",
            "COMMENT ON VIEW fares.price_board IS 'What the boards at the terminals show'",
            "CREATE FUNCTION fares.tidy_passenger() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN NEW.passenger := btrim(NEW.passenger); RETURN NEW; END'",
            "CREATE TRIGGER tidy_passenger BEFORE INSERT ON fares.booking FOR EACH ROW EXECUTE FUNCTION fares.tidy_passenger()")) {
      cluster.sql("development", "SET ROLE development_change; " + sql);
    }
  }

  private void expectBoard(String database) {
    expect(
        database,
        "SELECT peak_price, bicycle_price FROM fares.price_board WHERE code = 'FOOT'",
        "17.00|3.50");
    expect(
        database,
        "SELECT tgname, tgenabled FROM pg_trigger WHERE NOT tgisinternal",
        "tidy_passenger|O");
  }

  /** Somebody edits a definition in the host of development. */
  private void edit(String kind, String name, String document) {
    places.host("development/main").edit(kind, name, document, true, "");
  }

  private void wrongMoment() {
    bind(NORTH, "north");
    t.say("Production: who prepared it cannot approve it; the business owner does");
    Teller.Answer prepared =
        t.run(
            "ines",
            0,
            "promotion",
            "prepare",
            "fares@2.4.0",
            "--to",
            NORTH,
            "--notes",
            "Summer fares from June");
    String p = prepared.number("P");
    t.say("The new rule arrives switched on: the plan says so");
    String plan = t.run("ines", 0, "promotion", "activate", p, "rule/fares.ceiling").fingerprint();
    t.run("ines", 4, "promotion", "approve", p, "--expect", plan);
    t.run("ines", 7, "run", "start", p, "--yes", "--expect", plan);
    t.run("bram", 0, "promotion", "compare", p);
    t.run(
        "bram",
        0,
        "promotion",
        "approve",
        p,
        "--expect",
        plan,
        "--comment",
        "As agreed with ticketing");
    t.say("At the wrong moment somebody changes the peak surcharge in production by hand");
    cluster.sql("production", "UPDATE fares.surcharge SET amount = 4.75 WHERE code = 'PEAK'");
    t.run("ines", 8, "run", "start", p);
    t.run("ines", 9, "run", "start", p, "--wait", "--yes", "--expect", plan);
    expect("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'", "4.75");
    expect("production", "SELECT count(*) FROM fares.concession", "4");
    expect(
        "production",
        "SELECT count(*) FROM information_schema.columns WHERE table_schema = 'fares' AND column_name = 'bicycle_price'",
        "0");
    expectQuote(NORTH, "13.20");
    expectFile(NORTH, "fares/conditions.txt", "in the hold");
    t.say("The conflict is decided, the risk accepted, the new plan approved, and it runs");
    t.run("ines", 0, "promotion", "compare", p, "--again");
    t.run("ines", 0, "promotion", "decide", p, "records/fares.surcharge=take-incoming");
    String again =
        t.run(
                "bram",
                0,
                "promotion",
                "accept-risk",
                p,
                "drift-overwritten",
                "--reason",
                "Ticketing says 5.00 holds",
                "--until",
                "2099-12-31")
            .fingerprint();
    t.run("bram", 6, "promotion", "approve", p, "--expect", plan);
    t.run("bram", 0, "promotion", "approve", p, "--expect", again);
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", again);
    expect("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'", "5.00");
    expect(
        "production",
        "SELECT string_agg(code, ',' ORDER BY code) FROM fares.concession",
        "CREW,ISLAND,SCHOOL,SENIOR,STUDENT,YOUTH");
    expect("production", "SELECT bicycle_price FROM fares.fare_band WHERE code = 'FOOT'", "3.50");
    expectQuote(NORTH, "13.80");
    expectFile(NORTH, "fares/summer/poster.txt", "Summer");
    expectBoard("production");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.4.0",
        "--site",
        NORTH,
        "--good",
        "--reason",
        "Quotes checked at the north terminal");
    t.run("ines", 0, "standing");
  }

  private void south() {
    t.say("The south terminal follows; its card terminal is not known yet, and the plan says so");
    Teller.Answer prepared = t.run("ines", 7, "promotion", "prepare", "fares@2.4.0", "--to", SOUTH);
    bind(SOUTH, "south");
    String p = prepared.number("P");
    String plan = t.run("ines", 0, "promotion", "activate", p, "rule/fares.ceiling").fingerprint();
    t.run("bram", 0, "promotion", "approve", p, "--expect", plan);
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", plan);
    expect("south", "SELECT count(*) FROM fares.concession", "6");
    expectQuote(SOUTH, "13.80");
    expectFile(SOUTH, "fares/conditions.txt", "on deck");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.4.0",
        "--site",
        SOUTH,
        "--good",
        "--reason",
        "Quotes checked at the south terminal");
  }

  private void badVersion() {
    t.say(
        "2.5.0 undercharges students and takes ten times too much at night; nobody sees it in test");
    cluster.sql(
        "development",
        "UPDATE fares.concession SET percent = 70 WHERE code = 'STUDENT'; INSERT INTO fares.concession VALUES ('FAMILY', 'Family of four', 25)");
    edit("rule", "fares.night-crossing", FareDesk.night("11.5"));
    seal(
        "2.4.0",
        "2.5.0",
        "Student and family concessions",
        "records/fares.concession",
        "rule/fares.night-crossing");
    toTest("2.5.0", "Student fares are cheaper");
    t.say("From now on every run asks the host for a quote, before and after");
    t.run(
        "admin", 0, "app", "change", "fares", "--question", "night crossing=" + FareDesk.QUESTION);
    Teller.Answer prepared = t.run("ines", 0, "promotion", "prepare", "fares@2.5.0", "--to", NORTH);
    String p = prepared.number("P");
    t.run("bram", 0, "promotion", "approve", p, "--expect", prepared.fingerprint());
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", prepared.fingerprint());
    expect("production", "SELECT percent FROM fares.concession WHERE code = 'STUDENT'", "70");
    expectQuote(NORTH, "138.00");
    t.say(
        "The answer is not the one from before: 13.80 became 138.00. Three bookings are made, one with the family concession that 2.5.0 brought; then 2.5.0 is judged bad");
    cluster.sql(
        "production",
        "INSERT INTO fares.booking (passenger, band_code, concession_code, price) VALUES ('Late booking 1', 'FOOT', 'STUDENT', 3.60), ('Late booking 2', 'CAR', 'ISLAND', 24.00), ('Late booking 3', 'CAR', 'FAMILY', 36.00)");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.5.0",
        "--site",
        NORTH,
        "--bad",
        "--reason",
        "Students pay 3.60 instead of 9.60");
    whileBad = Instant.now();
    t.run("ines", 0, "rollback", "ways", "fares@production/north");
    t.say("A booking uses what goes: it is chosen what becomes of it, and nothing is lost");
    goBack(7);
    goBack(8, "--leave", "records/fares.concession");
    String way =
        t.run(
                "ines",
                0,
                "rollback",
                "ways",
                "fares@production/north",
                "--leave",
                "records/fares.concession")
            .fingerprint();
    goBack(0, "--leave", "records/fares.concession", "--wait", "--yes", "--expect", way);
    expect("production", "SELECT percent FROM fares.concession WHERE code = 'STUDENT'", "20");
    expect(
        "production",
        "SELECT c.percent FROM fares.booking b JOIN fares.concession c ON c.code = b.concession_code WHERE b.passenger = 'Late booking 3'",
        "25");
    expect("production", "SELECT count(*) FROM fares.booking WHERE passenger LIKE 'Late%'", "3");
    expectQuote(NORTH, "13.80");
    expect("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'", "5.00");
  }

  private void goBack(int expected, String... more) {
    List<String> command =
        new ArrayList<>(
            List.of(
                "rollback",
                "start",
                "fares@production/north",
                "--way",
                "earlier-version",
                "--reason",
                "Undercharges students"));
    command.addAll(List.of(more));
    t.run("ines", expected, command.toArray(String[]::new));
  }

  private void hotfix() {
    t.say("2.6.0 is prepared and waits; meanwhile a hotfix 2.4.1 goes out");
    cluster.sql(
        "development",
        "UPDATE fares.concession SET percent = 20 WHERE code = 'STUDENT'; INSERT INTO fares.concession VALUES ('PET', 'Travelling with a pet', 0)");
    edit("rule", "fares.night-crossing", FareDesk.night("1.15"));
    t.run("ines", 0, "version", "withdraw", "fares@2.5.0", "--reason", "Undercharges students");
    seal("2.4.0", "2.6.0", "Pets on board", "records/fares.concession");
    cluster.sql("development", "UPDATE fares.surcharge SET amount = 5.50 WHERE code = 'NIGHT'");
    seal("2.4.0", "2.4.1", "Night surcharge corrected", "records/fares.surcharge");
    t.run("ines", 0, "version", "compare", "fares@2.4.0", "2.4.1");
    t.say("Test still holds 2.5.0; going to 2.4.1 there is going back first");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.5.0",
        "--site",
        "test",
        "--bad",
        "--reason",
        "Undercharges students, as production showed");
    t.run(
        "ines",
        0,
        "rollback",
        "start",
        "fares@test",
        "--way",
        "earlier-version",
        "--reason",
        "Undercharges students",
        "--wait");
    expect("test", "SELECT percent FROM fares.concession WHERE code = 'STUDENT'", "20");
    String waiting =
        t.run("ines", 0, "promotion", "prepare", "fares@2.6.0", "--to", "test").number("P");
    toTest("2.4.1", "Night crossing quoted");
    Teller.Answer prepared =
        t.run("ines", 0, "promotion", "prepare", "fares@2.4.1", "--to", NORTH, "--notes", "Hotfix");
    t.run(
        "bram",
        0,
        "promotion",
        "approve",
        prepared.number("P"),
        "--expect",
        prepared.fingerprint());
    t.run(
        "ines",
        0,
        "run",
        "start",
        prepared.number("P"),
        "--wait",
        "--yes",
        "--expect",
        prepared.fingerprint());
    expect("production", "SELECT amount FROM fares.surcharge WHERE code = 'NIGHT'", "5.50");
    expect("production", "SELECT count(*) FROM fares.concession WHERE code = 'PET'", "0");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.4.1",
        "--site",
        NORTH,
        "--good",
        "--reason",
        "Night crossing quoted");
    t.say("2.6.0 does not have the hotfix: it is stopped, and 2.6.1 takes it in");
    t.run("ines", 7, "promotion", "check", waiting);
  }

  private void boarding() {
    t.say("Boarding is kept in a Git repository; its first version is drafted from a tag there");
    try (BoardingRepository repository =
        new BoardingRepository(places.root().resolve("repositories/boarding"))) {
      repository.commit(BoardingRepository.first(), "Check-in and lanes", "v1.0.0");
      t.run(
          "admin",
          0,
          "app",
          "new",
          "boarding",
          "--name",
          "Boarding",
          "--owner",
          "Terminal team",
          "--schema",
          "boarding",
          "--path",
          "ordinary");
      t.run(
          "admin",
          0,
          "app",
          "repository",
          "boarding",
          "--address",
          repository.folder().toString(),
          "--new-tag",
          "seal");
      firstBoarding();
      together(repository);
    }
  }

  private void firstBoarding() {
    t.run(
        "ines",
        0,
        "app",
        "adopt",
        "boarding",
        "--site",
        "test",
        "--number",
        "0.0.0",
        "--title",
        "Nothing yet",
        "--everything");
    t.run("ines", 0, "app", "match", "boarding", "--site", NORTH, "--number", "0.0.0");
    String draft = t.run("ines", 0, "draft", "new", "boarding", "--from", "0.0.0").number("D");
    t.run("ines", 0, "draft", "add", draft, "--commit", "v1.0.0", "--everything");
    t.run("ines", 0, "draft", "check", draft);
    t.run(
        "ines",
        0,
        "draft",
        "seal",
        draft,
        "--number",
        "1.0.0",
        "--title",
        "Check-in and lanes",
        "--needs",
        "sailings >=1.8.0 <3.0.0",
        "--needs",
        "server/host >=2.0.0",
        "--task",
        "FERRY-118");
    Teller.Answer prepared =
        t.run("ines", 0, "promotion", "prepare", "boarding@1.0.0", "--to", "test");
    String p = prepared.number("P");
    t.run(
        "ines",
        0,
        "promotion",
        "activate",
        p,
        "rule/boarding.lane-choice",
        "form/boarding.check-in");
    t.run("ines", 0, "run", "start", p, "--wait");
    expectFile("test/main", "boarding/lanes.html", "lane 1");
    t.run("ines", 0, "state", "list", "boarding@test");
  }

  /** A tag becomes a version by itself, and goes on with another application's as one. */
  private void together(BoardingRepository repository) {
    t.say("A new tag becomes boarding 1.1.0 by itself, on its author's name");
    repository.commit(BoardingRepository.second(), "Coaches take lane 2", "v1.1.0");
    t.run("ines", 0, "app", "look", "boarding");
    t.run("ines", 0, "version", "show", "boarding@1.1.0");
    t.say("It belongs together with sailings 1.9.0: one release, what is needed first");
    cluster.sql(
        "development", "UPDATE sailings.vessel SET capacity = capacity + 4 WHERE code = 'TERN'");
    String draft = t.run("ines", 0, "draft", "new", "sailings").number("D");
    t.run("ines", 0, "draft", "add", draft, "records/sailings.vessel", "--site", "development");
    t.run("ines", 0, "draft", "check", draft);
    t.run(
        "ines",
        0,
        "draft",
        "seal",
        draft,
        "--number",
        "1.9.0",
        "--title",
        "Tern carries more",
        "--by-hand",
        "after: Hang up the new seating plan of the Tern\n- at the gate\n- in the crew room");
    t.run(
        "ines",
        0,
        "release",
        "new",
        "gates",
        "--title",
        "Gates and lanes",
        "boarding@1.1.0",
        "sailings@1.9.0");
    t.run("ines", 0, "release", "prepare", "gates", "--to", "test");
    t.run("ines", 0, "release", "start", "gates", "--at", "test", "--wait");
    expectFile("test/main", "boarding/lanes.html", "lane 2");
    expect("test", "SELECT capacity FROM sailings.vessel WHERE code = 'TERN'", "184");
    t.say("What people do by hand is still to come: its run waits for their word");
    t.run("ines", 0, "run", "list", "--state", "paused");
  }

  private void handOver() {
    t.say("2.4.1 goes to a terminal without a network, as a file that can be trusted");
    t.run("admin", 0, "key", "new", "Morrowick head office");
    String id = t.run("ines", 0, "package", "build", "fares@2.4.1").number("K");
    Path file = places.root().resolve("fares-2.4.1.zip");
    Path key = places.root().resolve("office.key");
    t.run("ines", 0, "package", "show", id);
    t.run("ines", 0, "package", "save", id, "--to", file.toString());
    t.run("ines", 17, "package", "verify", file.toString());
    String signer =
        t.run("ines", 0, "key", "list")
            .out()
            .lines()
            .skip(1)
            .findFirst()
            .orElse("")
            .split("\\s")[0];
    t.run("ines", 0, "key", "save", signer, "--to", key.toString());
    t.run("ines", 0, "package", "verify", file.toString(), "--trust", key.toString());
  }

  private void ending() {
    t.run("ines", 0, "promotion", "list", "--app", "fares");
    t.say("Development calls the season of a surcharge by another name: its values go with it");
    cluster.sql(
        "development",
        "SET ROLE development_change; ALTER TABLE fares.surcharge RENAME COLUMN season TO valid_in");
    seal("2.4.1", "2.6.1", "Pets on board", "records/fares.concession", "table/fares.surcharge");
    toTest("2.6.1", "Pet concession quoted");
    expect("test", "SELECT valid_in FROM fares.surcharge WHERE code = 'PEAK'", "summer");
    String pets =
        t.run(
                "ines",
                0,
                "promotion",
                "prepare",
                "fares@2.6.1",
                "--to",
                NORTH,
                "--notes",
                "Pets on board from July")
            .number("P");
    t.run("ines", 0, "promotion", "carry-over", pets);
    t.say(
        "Before anybody is asked, its plan is carried out on a copy of the north, and taken back there");
    t.run("ines", 0, "rehearsal", "start", pets, "--wait");
    expect(
        "postgres", "SELECT count(*) FROM pg_database WHERE datname LIKE 'plenzo_rehearsal%'", "0");
    t.say("Nothing goes to production over the regatta; what that holds is said first");
    Instant regatta = Instant.now().plus(Duration.ofDays(20)).truncatedTo(ChronoUnit.HOURS);
    t.run(
        "admin",
        0,
        "freeze",
        "add",
        "production",
        "--from",
        regatta.toString(),
        "--until",
        regatta.plus(Duration.ofDays(3)).toString(),
        "--reason",
        "Morrowick regatta");
    t.run("ines", 0, "calendar", "show", "--stage", "production", "--days", "28");
    t.say("Somebody renames a fare band in test by hand: drift");
    cluster.sql(
        "test", "UPDATE fares.fare_band SET name = 'Walk-on passenger' WHERE code = 'FOOT'");
    t.run("ines", 14, "drift", "look", "fares@test", "--fail-on-difference");
    t.run("ines", 0, "standing");
    handEdit();
    terminalMoves();
  }

  /** The auditor's look at all of it, and what must be left nowhere. */
  private void whole() {
    t.run("bram", 0, "waiting");
    t.run("ines", 0, "history", "list", "--app", "fares", "--stage", "production");
    t.say(
        "The auditor asks what was where when 2.5.0 was in production, and whether the past is whole");
    t.run("odile", 0, "standing", "--at", String.valueOf(whileBad));
    t.run("odile", 0, "history", "verify");
    expect("production", "SELECT count(*) FROM fares.booking", "403");
    expect(
        "production",
        "SELECT count(*) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'plenzo' AND c.relname LIKE 'stage%'",
        "0");
    expect(
        "postgres", "SELECT count(*) FROM pg_database WHERE datname LIKE 'plenzo_scratch%'", "0");
  }

  private void agreedAndRun(String p) {
    String plan = t.run("bram", 0, "promotion", "show", p).fingerprint();
    t.run("bram", 0, "promotion", "approve", p, "--expect", plan);
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", plan);
  }

  private void handEdit() {
    t.say(
        "In the south somebody edits concessions by hand: one is put back by a plan, one stays for the season with a reason, and one that is only there stays as well");
    cluster.sql(
        "south",
        "UPDATE fares.concession SET percent = 60 WHERE code = 'SENIOR'; INSERT INTO fares.concession VALUES ('CHOIR', 'Choir of the island', 100); UPDATE fares.concession SET percent = 55 WHERE code = 'ISLAND'");
    t.run("ines", 14, "drift", "look", "fares@" + SOUTH, "--fail-on-difference");
    t.run("ines", 0, "drift", "show", "fares@" + SOUTH);
    t.run(
        "ines",
        0,
        "drift",
        "leave",
        "fares@" + SOUTH,
        "records/fares.concession#row/\"ISLAND\"",
        "--until",
        "2099-09-30",
        "--reason",
        "Agreed with the island council for the season");
    String p =
        t.run("ines", 0, "drift", "prepare", "fares@" + SOUTH, "--notes", "As agreed again")
            .number("P");
    agreedAndRun(p);
    expect("south", "SELECT percent FROM fares.concession WHERE code = 'SENIOR'", "30");
    expect("south", "SELECT percent FROM fares.concession WHERE code = 'ISLAND'", "55");
    expect("south", "SELECT percent FROM fares.concession WHERE code = 'CHOIR'", "100");
    t.run("ines", 0, "drift", "look", "fares@" + SOUTH, "--fail-on-difference");
  }

  private void terminalMoves() {
    t.say(
        "The card terminal of the south moves: its host is given the new address, and nothing else");
    expectTerminal(SOUTH, "https://terminal.south.example");
    t.run(
        "ines",
        0,
        "binding",
        "set",
        "fares",
        "terminal-address",
        "--at",
        SOUTH,
        "--value",
        "https://terminal.quay.example");
    expectTerminal(SOUTH, "https://terminal.south.example");
    t.run("ines", 0, "binding", "list", "fares", "--site", SOUTH);
    agreedAndRun(t.run("ines", 0, "binding", "prepare", "fares@" + SOUTH).number("P"));
    expectTerminal(SOUTH, "https://terminal.quay.example");
    expect("south", "SELECT percent FROM fares.concession WHERE code = 'CHOIR'", "100");
    t.say("Nobody answers at the new address: the host is given the one of before again");
    String way = t.run("ines", 0, "rollback", "ways", "fares@" + SOUTH).fingerprint();
    t.run(
        "ines",
        0,
        "rollback",
        "start",
        "fares@" + SOUTH,
        "--way",
        "earlier-values",
        "--reason",
        "Nobody answers at the new address",
        "--wait",
        "--yes",
        "--expect",
        way);
    expectTerminal(SOUTH, "https://terminal.south.example");
    t.run("ines", 0, "binding", "list", "fares", "--site", SOUTH);
    expect("south", "SELECT percent FROM fares.concession WHERE code = 'CHOIR'", "100");
  }

  /** Which card terminal the host of a site would call. */
  private void expectTerminal(String site, String address) {
    String answer = places.host(site).post("/quote", FareDesk.QUESTION);
    if (!answer.contains(address)) {
      throw new IllegalStateException(
          "At " + site + " the terminal should be " + address + " and is " + answer);
    }
  }
}
