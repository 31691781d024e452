package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;

/**
 * A quarter in minutes: thirteen weeks of sailings and fares, told by the client to the real
 * service, whose clock is moved on from day to day. Its figures, exceptions and files that grew old
 * are those of a quarter.
 */
final class Quarter {
  private static final String NORTH = "production/north";
  private static final String SOUTH = "production/south";
  private static final int WEEKS = 13;
  private static final String CLOCK = "clock";

  /** Weeks in which a version is judged bad in production and gone back from. */
  private static final int LATE = 4;

  private static final int WRONG = 10;

  /** The week in which somebody changes a row at the wrong moment. */
  private static final int MOVED = 7;

  private final Teller t;
  private final Places places;
  private final Cluster cluster;
  private final Path clock;
  private Duration behind = Duration.ofDays(92);

  Quarter(Teller teller, Places places, Path folder) {
    this.places = places;
    this.t = teller;
    this.cluster = places.cluster();
    this.clock = folder.resolve(CLOCK);
  }

  /** The file that moves the service's clock, set to the quarter's beginning. */
  static String clock(Path folder) throws IOException {
    Path file = folder.resolve(CLOCK);
    Files.createDirectories(folder);
    if (!Files.exists(file)) {
      Files.writeString(file, Duration.ofDays(-92).toString());
    }
    return file.toString();
  }

  /** Time goes by; never further than to now. */
  private void pass(Duration by) {
    behind = behind.minus(by);
    if (behind.isNegative()) {
      behind = Duration.ZERO;
    }
    try {
      Path next = clock.resolveSibling("clock.next");
      Files.writeString(next, behind.negated().toString());
      Files.move(next, clock, StandardCopyOption.ATOMIC_MOVE);
    } catch (IOException e) {
      throw new UncheckedIOException("The clock cannot be moved", e);
    }
  }

  private static Duration hours(int n) {
    return Duration.ofHours(n);
  }

  /**
   * @throws IllegalStateException when a command is not as the story says
   */
  void tell(String adminPassword) {
    World.setUp(t, places, cluster.port(), adminPassword);
    adopt("sailings", "1.0.0", "sailings.vessel", "sailings.timetable");
    adopt("fares", "2.0.0", "fares.concession", "fares.surcharge");
    t.run("admin", 0, "key", "new", "Morrowick head office");
    t.run("admin", 0, "copy", "every", "sailings", "30");
    for (int week = 1; week <= WEEKS; week++) {
      t.say("Week " + week);
      sailings(week);
      if (week % 3 == 0) {
        fares(week);
      }
    }
    pass(behind);
    t.say("The quarter is over: its figures, and what is old");
    for (String person : new String[] {"admin", "ines", "bram", "tove", "odile"}) {
      t.signIn(person, person.equals("admin") ? adminPassword : World.PASSWORD);
    }
    t.run("ines", 0, "figures", "show", "--days", "100", "--by", "month");
    t.run("ines", 0, "figures", "backs", "--days", "100");
    t.run("odile", 0, "figures", "exceptions", "--days", "100");
    t.run(
        "admin",
        0,
        "retention",
        "set",
        "--days",
        "backup=60",
        "--days",
        "log=30",
        "--days",
        "comparison=30");
    t.run("admin", 0, "retention", "preview");
    t.run("ines", 0, "history", "between", "sailings@" + NORTH, "--days", "45");
    t.run("ines", 0, "standing");
  }

  private void adopt(String app, String number, String... records) {
    java.util.List<String> command =
        new java.util.ArrayList<>(
            java.util.List.of(
                "app",
                "adopt",
                app,
                "--site",
                NORTH,
                "--number",
                number,
                "--title",
                "What production held",
                "--everything"));
    for (String r : records) {
      command.add("--records");
      command.add(r);
    }
    t.run("ines", 0, command.toArray(String[]::new));
    for (String site : new String[] {SOUTH, "test"}) {
      t.run("ines", 0, "app", "match", app, "--site", site, "--number", number);
    }
  }

  /** A version a week: sealed on Monday, at test on Tuesday, in production when a yes has come. */
  private void sailings(int week) {
    String number = "1." + week + ".0";
    cluster.sql(
        "development", "UPDATE sailings.vessel SET capacity = capacity + 1 WHERE code = 'TERN'");
    seal("sailings", from(week), number, "Week " + week, "records/sailings.vessel");
    pass(hours(20 + week));
    toTest("sailings", number);
    pass(hours(30));
    String p = prepare("sailings@" + number, NORTH);
    String plan = t.run("bram", 0, "promotion", "show", p).fingerprint();
    pass(hours(2 + 5 * (week % 4)));
    t.run("bram", 0, "promotion", "approve", p, "--expect", plan);
    pass(hours(3));
    if (week == MOVED) {
      moved(p, plan);
    } else {
      t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", plan);
      if (week == LATE || week == WRONG) {
        goBack(number, week == LATE ? "The vessel was not refitted yet" : "Counts crew as seats");
      } else {
        good("sailings@" + number, NORTH);
      }
    }
    pass(Duration.ofDays(7).minus(hours(20 + week + 30 + 2 + 5 * (week % 4) + 3)));
  }

  /** What was gone back from is left out. */
  private static String from(int week) {
    int before = week - 1;
    while (before == LATE || before == WRONG) {
      before--;
    }
    return "1." + before + ".0";
  }

  private void moved(String p, String plan) {
    t.say("Somebody at the north terminal changes what it would change: nothing is done");
    cluster.sql(
        "production", "UPDATE sailings.vessel SET capacity = capacity - 1 WHERE code = 'TERN'");
    t.run("ines", 9, "run", "start", p, "--wait", "--yes", "--expect", plan);
    cluster.sql(
        "production", "UPDATE sailings.vessel SET capacity = capacity + 1 WHERE code = 'TERN'");
    t.run("ines", 0, "promotion", "withdraw", p, "--reason", "Settled with the terminal first");
  }

  private void goBack(String number, String why) {
    pass(hours(1));
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "sailings@" + number,
        "--site",
        NORTH,
        "--bad",
        "--reason",
        why);
    String way = t.run("ines", 0, "rollback", "ways", "sailings@" + NORTH).fingerprint();
    t.run(
        "ines",
        0,
        "rollback",
        "start",
        "sailings@" + NORTH,
        "--way",
        "earlier-version",
        "--reason",
        why,
        "--wait",
        "--yes",
        "--expect",
        way);
    t.run("ines", 0, "version", "withdraw", "sailings@" + number, "--reason", why);
    cluster.sql(
        "development", "UPDATE sailings.vessel SET capacity = capacity - 1 WHERE code = 'TERN'");
  }

  private void fares(int week) {
    t.run("ines", 0, "copy", "take", "sailings");
    String number = "2." + week / 3 + ".0";
    cluster.sql(
        "development", "UPDATE fares.surcharge SET amount = amount + 0.25 WHERE code = 'NIGHT'");
    seal(
        "fares",
        "2." + (week / 3 - 1) + ".0",
        number,
        "Month " + week / 3,
        "records/fares.surcharge");
    toTest("fares", number);
    for (String site : new String[] {NORTH, SOUTH}) {
      String p = prepare("fares@" + number, site);
      String plan = t.run("bram", 0, "promotion", "show", p).fingerprint();
      t.run("bram", 0, "promotion", "approve", p, "--expect", plan);
      t.run("ines", 0, "run", "start", p, "--wait", "--yes", "--expect", plan);
      good("fares@" + number, site);
    }
  }

  private String prepare(String version, String site) {
    return t.run("ines", 0, "promotion", "prepare", version, "--to", site).number("P");
  }

  private void seal(String app, String from, String number, String title, String component) {
    String draft = t.run("ines", 0, "draft", "new", app, "--from", from).number("D");
    t.run("ines", 0, "draft", "add", draft, component, "--site", "development");
    t.run("ines", 0, "draft", "check", draft);
    t.run("ines", 0, "draft", "seal", draft, "--number", number, "--title", title);
  }

  private void toTest(String app, String number) {
    String p = prepare(app + "@" + number, "test");
    t.run("ines", 0, "run", "start", p, "--wait");
    good(app + "@" + number, "test");
  }

  private void good(String version, String site) {
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        version,
        "--site",
        site,
        "--good",
        "--reason",
        "Looked at there");
  }
}
