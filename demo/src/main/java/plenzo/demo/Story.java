package plenzo.demo;

import java.time.Instant;
import java.util.List;
import java.util.Objects;

/**
 * The story of the sample world, told through the client; each chapter is asserted by SQL of its
 * own.
 */
public final class Story {
  private final Teller t;
  private final Cluster cluster;
  private Instant whileBad = Instant.EPOCH;

  public Story(Teller teller, Cluster cluster) {
    this.t = teller;
    this.cluster = cluster;
  }

  /**
   * @throws IllegalStateException when a command or a stage is not as the story says
   */
  public void tell() {
    adopt();
    firstVersion();
    wrongMoment();
    badVersion();
    hotfix();
    ending();
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
    t.run("ines", 0, "app", "candidates", "fares", "--site", "production");
    t.run(
        "ines",
        0,
        "app",
        "adopt",
        "fares",
        "--site",
        "production",
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
    t.run("ines", 0, "app", "match", "fares", "--site", "test", "--number", "2.3.0");
    t.run(
        "ines",
        0,
        "app",
        "adopt",
        "sailings",
        "--site",
        "production",
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
    t.run("ines", 0, "app", "match", "sailings", "--site", "test", "--number", "1.8.0");
    t.run("ines", 0, "standing");
    expect("production", "SELECT stage, site FROM plenzo.marker", "production|main");
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
    t.say("Development adds a column to the fare bands, two concessions and a changed surcharge");
    cluster.sql(
        "development",
        "SET ROLE development_change; ALTER TABLE fares.fare_band ADD COLUMN bicycle_price numeric(6,2) NOT NULL DEFAULT 0; UPDATE fares.fare_band SET bicycle_price = 3.50 WHERE code = 'FOOT';"
            + " INSERT INTO fares.concession VALUES ('YOUTH', 'Youth, 16 to 25', 15), ('ISLAND', 'Islander', 50); UPDATE fares.surcharge SET amount = 5.00 WHERE code = 'PEAK'");
    t.run("ines", 0, "component", "changed-since", "fares@2.3.0", "--site", "development");
    seal(
        "2.3.0",
        "2.4.0",
        "Summer fares",
        "records/fares.fare_band",
        "records/fares.concession",
        "records/fares.surcharge");
    t.say("2.4.0 goes to test and is judged good");
    toTest("2.4.0", "Quotes of three crossings checked, bicycles included");
    expect("test", "SELECT bicycle_price FROM fares.fare_band WHERE code = 'FOOT'", "3.50");
    expect("test", "SELECT count(*) FROM fares.concession", "6");
    expect("test", "SELECT count(*) FROM fares.booking", "400");
  }

  private void wrongMoment() {
    t.say("Production: who prepared it cannot approve it; the business owner does");
    Teller.Answer prepared =
        t.run(
            "ines",
            0,
            "promotion",
            "prepare",
            "fares@2.4.0",
            "--to",
            "production",
            "--notes",
            "Summer fares from June");
    String p = prepared.number("P");
    String plan = prepared.fingerprint();
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
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.4.0",
        "--site",
        "production",
        "--good",
        "--reason",
        "Quotes checked at the north terminal");
    t.run("ines", 0, "standing");
  }

  private void badVersion() {
    t.say("2.5.0 has a concession that undercharges; nobody sees it in test");
    cluster.sql("development", "UPDATE fares.concession SET percent = 70 WHERE code = 'STUDENT'");
    seal("2.4.0", "2.5.0", "Student concession", "records/fares.concession");
    toTest("2.5.0", "Student fares are cheaper");
    Teller.Answer prepared =
        t.run("ines", 0, "promotion", "prepare", "fares@2.5.0", "--to", "production");
    String p = prepared.number("P");
    t.run("bram", 0, "promotion", "approve", p, "--expect", prepared.fingerprint());
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", prepared.fingerprint());
    expect("production", "SELECT percent FROM fares.concession WHERE code = 'STUDENT'", "70");
    t.say(
        "Two bookings are made; then the mistake is seen, and 2.5.0 is judged bad and rolled back");
    cluster.sql(
        "production",
        "INSERT INTO fares.booking (passenger, band_code, concession_code, price) VALUES ('Late booking 1', 'FOOT', 'STUDENT', 3.60), ('Late booking 2', 'CAR', 'ISLAND', 24.00)");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.5.0",
        "--site",
        "production",
        "--bad",
        "--reason",
        "Students pay 3.60 instead of 9.60");
    whileBad = Instant.now();
    t.run("ines", 0, "rollback", "ways", "fares@production");
    t.run(
        "ines",
        8,
        "rollback",
        "start",
        "fares@production",
        "--way",
        "earlier-version",
        "--reason",
        "Undercharges students");
    String way = t.run("ines", 0, "rollback", "ways", "fares@production").fingerprint();
    t.run(
        "ines",
        0,
        "rollback",
        "start",
        "fares@production",
        "--way",
        "earlier-version",
        "--reason",
        "Undercharges students",
        "--wait",
        "--yes",
        "--expect",
        way);
    expect("production", "SELECT percent FROM fares.concession WHERE code = 'STUDENT'", "20");
    expect("production", "SELECT count(*) FROM fares.booking WHERE passenger LIKE 'Late%'", "2");
    expect("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'", "5.00");
  }

  private void hotfix() {
    t.say("2.6.0 is prepared and waits; meanwhile a hotfix 2.4.1 goes out");
    cluster.sql(
        "development",
        "UPDATE fares.concession SET percent = 20 WHERE code = 'STUDENT'; INSERT INTO fares.concession VALUES ('PET', 'Travelling with a pet', 0)");
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
        t.run(
            "ines",
            0,
            "promotion",
            "prepare",
            "fares@2.4.1",
            "--to",
            "production",
            "--notes",
            "Hotfix");
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
        "production",
        "--good",
        "--reason",
        "Night crossing quoted");
    t.say("2.6.0 does not have the hotfix: it is stopped, and 2.6.1 takes it in");
    t.run("ines", 7, "promotion", "check", waiting);
  }

  private void ending() {
    t.run("ines", 0, "promotion", "list", "--app", "fares");
    seal("2.4.1", "2.6.1", "Pets on board", "records/fares.concession");
    toTest("2.6.1", "Pet concession quoted");
    t.run(
        "ines",
        0,
        "promotion",
        "prepare",
        "fares@2.6.1",
        "--to",
        "production",
        "--notes",
        "Pets on board from July");
    t.say("Somebody renames a fare band in test by hand: drift");
    cluster.sql(
        "test", "UPDATE fares.fare_band SET name = 'Walk-on passenger' WHERE code = 'FOOT'");
    t.run("ines", 14, "drift", "look", "fares@test", "--fail-on-difference");
    t.run("ines", 0, "standing");
    t.run("bram", 0, "waiting");
    t.run("ines", 0, "history", "list", "--app", "fares", "--stage", "production");
    t.say(
        "The auditor asks what was where when 2.5.0 was in production, and whether the past is whole");
    t.run("odile", 0, "standing", "--at", String.valueOf(whileBad));
    t.run("odile", 0, "history", "verify");
    expect("production", "SELECT count(*) FROM fares.booking", "402");
    expect(
        "production",
        "SELECT count(*) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'plenzo' AND c.relname LIKE 'stage%'",
        "0");
    expect(
        "postgres", "SELECT count(*) FROM pg_database WHERE datname LIKE 'plenzo_scratch%'", "0");
  }
}
