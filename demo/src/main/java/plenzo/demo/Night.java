package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Objects;

/**
 * A night: a version goes to two sites in waves, one of them answers wrongly and goes back by
 * itself, people do by hand what is left, an emergency gets the yes that it owed, and what guards
 * production is changed by two.
 */
final class Night {
  private static final String NORTH = "production/north";
  private static final String TERN = "SELECT capacity FROM sailings.vessel WHERE code = 'TERN'";

  private final Teller t;
  private final Places places;

  Night(Teller teller, Places places) {
    this.t = teller;
    this.places = places;
  }

  /**
   * @throws IllegalStateException when a command or a stage is not as the story says
   */
  void tell() {
    agreed();
    tested();
    inWaves();
    byHand();
    emergency();
    byTwo();
  }

  private void agreed() {
    t.say(
        "By night other gates hold: a test report, one yes, and a wrong answer brings the earlier version back by itself");
    t.run(
        "admin",
        0,
        "path",
        "new",
        "night",
        "--name",
        "Night",
        "--source",
        "development",
        "--leg",
        "test",
        "--leg",
        "production");
    t.run(
        "admin",
        0,
        "path",
        "gates",
        "night",
        "production",
        "--approvals",
        "1",
        "--evidence",
        "true",
        "--when-failed",
        "back",
        "--emergency",
        "approvals",
        "--emergency",
        "evidence-before",
        "--emergency-people",
        "1");
    for (String app : List.of("sailings", "boarding")) {
      t.run("admin", 0, "app", "change", app, "--path", "ordinary", "--path", "night");
    }
    t.run(
        "admin",
        0,
        "app",
        "change",
        "sailings",
        "--question",
        "seats=query:SELECT sum(v.capacity) FROM sailings.timetable t JOIN sailings.vessel v ON v.code = t.vessel_code",
        "--expected",
        "seats=\"920\"");
  }

  private void tested() {
    t.say("Tove says good of what the last run brought to test, and shows it by a test report");
    Path report = places.root().resolve("night-sailings.xml");
    try {
      Files.writeString(
          report,
          """
          <?xml version="1.0" encoding="UTF-8"?>
          <testsuites>
            <testsuite name="Night sailings">
              <testcase classname="Seats" name="Tern takes 184"/>
              <testcase classname="Seats" name="Gannet takes 320"/>
              <testcase classname="Timetable" name="every sailing has a berth"/>
              <testcase classname="Timetable" name="winter days"><skipped/></testcase>
            </testsuite>
          </testsuites>
          """);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    String run = t.run("tove", 0, "run", "list", "--state", "paused").number("R");
    t.run(
        "tove",
        0,
        "run",
        "judge",
        run,
        "--good",
        "--reason",
        "Sold the Tern out at 184",
        "--evidence",
        report.toString());
    t.run("ines", 0, "evidence", "list", "--app", "sailings");
  }

  private void inWaves() {
    t.say(
        "sailings 1.9.0 goes to both sites of production, one after the other. In the south somebody took the evening sailing out by hand: its seats will not add up");
    places.cluster().sql("south", "DELETE FROM sailings.timetable WHERE vessel_code = 'PETREL'");
    String waves =
        t.run(
                "ines",
                0,
                "wave",
                "prepare",
                "sailings@1.9.0",
                "--to",
                "production",
                "--path",
                "night",
                "--wave",
                "north",
                "--wave",
                "south",
                "--notes",
                "The Tern takes more")
            .number("W");
    String plans = t.run("bram", 0, "wave", "show", waves).fingerprint();
    t.run("bram", 0, "wave", "approve", waves, "--expect", plans);
    t.run("ines", 9, "wave", "start", waves, "--wait", "--yes", "--expect", plans);
    expect("production", TERN, "184");
    expect("south", TERN, "180");
    expect("south", "SELECT count(*) FROM sailings.timetable", "3");
    t.run("ines", 0, "run", "list", "--app", "sailings");
    t.run("ines", 0, "standing");
  }

  private void byHand() {
    t.say("In the north the new seating plan hangs: its run ends");
    Teller.Answer paused =
        t.run("ines", 0, "run", "list", "--stage", "production", "--state", "paused");
    String run = paused.number("R");
    String step = t.run("ines", 0, "run", "show", run).step("Hang up the new seating plan");
    t.run(
        "ines",
        0,
        "run",
        "done",
        run,
        step,
        "--note",
        "Hangs at the gate and in the crew room",
        "--wait");
  }

  private void emergency() {
    t.say(
        "Coaches block the gate of the north: boarding 1.1.0 goes there at once, and owes the yes that it did not wait for");
    String p =
        t.run("ines", 0, "promotion", "prepare", "boarding@1.1.0", "--to", NORTH, "--path", "night")
            .number("P");
    t.run(
        "ines",
        0,
        "promotion",
        "activate",
        p,
        "rule/boarding.lane-choice",
        "form/boarding.check-in");
    String plan =
        t.run("ines", 0, "promotion", "emergency", p, "--reason", "Coaches block the gate tonight")
            .fingerprint();
    t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", plan);
    t.run("ines", 0, "standing");
    t.say("Bram is off the next day and lets Tove stand in for him: the owed yes is hers for him");
    String deputy =
        t.run(
                "bram",
                0,
                "deputy",
                "name",
                "tove",
                "--stage",
                "production",
                "--until",
                LocalDate.now().plusDays(1).toString(),
                "--reason",
                "Off until Monday")
            .number("DP");
    t.run(
        "tove",
        0,
        "promotion",
        "approve",
        p,
        "--expect",
        plan,
        "--comment",
        "Right to not wait for us");
    t.run("ines", 0, "promotion", "show", p);
    t.run("bram", 0, "deputy", "end", deputy);
    t.run("bram", 0, "deputy", "list");
    t.run("odile", 0, "history", "list", "--app", "boarding", "--stage", "production");
  }

  private void byTwo() {
    t.say(
        "For one night Edda administers too: from now on what guards production is changed by two, and nothing is changed before the second agrees");
    t.withInput(
        "admin",
        0,
        World.PASSWORD,
        "user",
        "invite",
        "edda",
        "--shown",
        "Edda Solheim, platform operations",
        "--keep-password");
    t.run("admin", 0, "role", "grant", "edda", "look", "administer");
    t.signIn("edda", World.PASSWORD);
    String longer =
        t.run("admin", 7, "path", "gates", "night", "production", "--approval-days", "7")
            .number("CH");
    t.run("edda", 0, "proposal", "show", longer);
    t.run("admin", 4, "proposal", "agree", longer);
    t.run("edda", 0, "proposal", "agree", longer, "--note", "A yes of last week is enough");
    String none =
        t.run("admin", 7, "path", "gates", "night", "production", "--evidence", "false")
            .number("CH");
    t.run("edda", 0, "proposal", "decline", none, "--note", "Not without a test report");
    String back = t.run("admin", 7, "role", "revoke", "edda", "administer").number("CH");
    t.run("edda", 0, "proposal", "agree", back, "--note", "The night is over");
    t.run("admin", 0, "proposal", "list");
  }

  private void expect(String database, String sql, String row) {
    List<String> found = places.cluster().query(database, sql);
    if (!Objects.equals(found, List.of(row))) {
      throw new IllegalStateException(
          "In " + database + ", " + sql + " should give " + row + " and gives " + found);
    }
  }
}
