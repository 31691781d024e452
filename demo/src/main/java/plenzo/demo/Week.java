package plenzo.demo;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.function.Supplier;

/**
 * A week: a version comes to test by itself, a run that was to start by itself refuses because a
 * row moved, whoever is to come is called, and letters are read.
 */
final class Week {
  private static final String SOUTH = "production/south";
  private static final String BRAM = "bram@morrowick.example";
  private static final Duration PATIENCE = Duration.ofMinutes(3);

  private final Teller t;
  private final Places places;

  Week(Teller teller, Places places) {
    this.t = teller;
    this.places = places;
  }

  /**
   * @throws IllegalStateException when a command or a stage is not as the story says
   */
  void tell() {
    following();
    came(again());
    calls(refused());
    calendar();
  }

  private void following() {
    t.say("Bram is told by letter of what fails; by night of nothing but what is half done");
    t.run(
        "bram",
        0,
        "notice",
        "follow",
        "--mail",
        BRAM,
        "--news",
        "urgent,failed,asked",
        "--quiet-hours",
        "03:00-03:01",
        "--zone",
        "UTC");
    t.run("bram", 0, "notice", "try");
    t.run(
        "admin",
        0,
        "call",
        "order",
        "production",
        "--who",
        "bram=extension 210",
        "--who",
        "ines=extension 214",
        "--minutes",
        "20");
  }

  /** The newest version goes to test at the next minute, and each day then. */
  private String again() {
    t.say("A version is sealed by day, and comes to test by itself, each day at this time");
    places
        .cluster()
        .sql("development", "UPDATE fares.concession SET percent = 45 WHERE code = 'SENIOR'");
    String draft = t.run("ines", 0, "draft", "new", "fares", "--from", "2.6.1").number("D");
    t.run("ines", 0, "draft", "add", draft, "records/fares.concession", "--site", "development");
    t.run("ines", 0, "draft", "check", draft);
    t.run(
        "ines",
        0,
        "draft",
        "seal",
        draft,
        "--number",
        "2.7.0",
        "--title",
        "Seniors pay a bit more");
    ZonedDateTime next = Instant.now().plusSeconds(61).atZone(ZoneOffset.UTC);
    return t.run(
            "ines",
            0,
            "repeat",
            "add",
            "fares",
            "--to",
            "test",
            "--rule",
            "FREQ=DAILY;BYHOUR=" + next.getHour() + ";BYMINUTE=" + next.getMinute())
        .number("RP");
  }

  private String refused() {
    t.say(
        "A version is to go to the south by itself; somebody there changes what it would change, and it is refused with the reason");
    String p =
        t.run(
                "ines",
                0,
                "promotion",
                "prepare",
                "fares@2.7.0",
                "--to",
                SOUTH,
                "--notes",
                "Seniors pay a bit more")
            .number("P");
    String plan = t.run("bram", 0, "promotion", "show", p).fingerprint();
    t.run("bram", 0, "promotion", "approve", p, "--expect", plan);
    String schedule =
        t.run(
                "ines",
                0,
                "schedule",
                "add",
                p,
                "--at",
                Instant.now().plusSeconds(8).toString(),
                "--yes",
                "--expect",
                plan)
            .number("SC");
    places.cluster().sql("south", "UPDATE fares.concession SET percent = 35 WHERE code = 'SENIOR'");
    until(
        "the schedule is refused",
        () -> t.run("ines", 0, "schedule", "list", "--promotion", p).out().contains("refused"));
    places.cluster().sql("south", "UPDATE fares.concession SET percent = 30 WHERE code = 'SENIOR'");
    t.run("ines", 0, "promotion", "withdraw", p, "--reason", "Asked for again next week");
    return schedule;
  }

  private void came(String repeat) {
    until(
        repeat + " has brought 2.7.0 to test",
        () -> t.run("ines", 0, "errand", "list").out().contains("done"));
    t.run("ines", 0, "repeat", "list");
    t.run(
        "tove",
        0,
        "version",
        "verdict",
        "fares@2.7.0",
        "--good",
        "--site",
        "test",
        "--reason",
        "Quoted");
  }

  private void calls(String refused) {
    until(
        "bram is called about " + refused,
        () -> places.letters().letters(BRAM).stream().anyMatch(l -> l.startsWith("Called: ")));
    for (String letter : places.letters().letters(BRAM)) {
      t.say("A letter for bram: " + letter.lines().findFirst().orElse(""));
    }
    String call = t.run("bram", 0, "call", "list", "--open").number("CL");
    t.run("bram", 0, "call", "take", call);
    t.run("bram", 0, "call", "over", call);
    t.run("bram", 0, "notice", "list");
    String stopped =
        t.run("ines", 0, "run", "list", "--app", "fares", "--stage", "production").number("R");
    t.run("ines", 0, "run", "night", stopped);
  }

  private void calendar() {
    t.run(
        "admin",
        0,
        "window",
        "add",
        "test",
        "--days",
        "mon,tue,wed,thu,fri,sat,sun",
        "--from",
        "00:00",
        "--until",
        "00:00");
    t.run("ines", 0, "calendar", "show", "--days", "3", "--back", "1");
  }

  private static void until(String what, Supplier<Boolean> so) {
    long end = System.nanoTime() + PATIENCE.toNanos();
    while (!so.get()) {
      if (System.nanoTime() > end) {
        throw new IllegalStateException("It did not come about that " + what);
      }
      try {
        Thread.sleep(1_500);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new IllegalStateException("Interrupted", e);
      }
    }
  }
}
