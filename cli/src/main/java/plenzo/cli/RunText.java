package plenzo.cli;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunTimes;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.SpanView;

/** How a run is shown, waited for and told to a script. */
final class RunText {
  /** In hours: from then on the minutes say nothing. */
  private static final int TWO_DAYS = 48;

  private RunText() {}

  static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new Failed(
          130,
          "INTERRUPTED",
          "Waiting ended; what was asked for goes on at the server.",
          List.of(),
          "");
    }
  }

  /** What production and lost data ask for before going on. */
  static String expected(
      Group group, String what, String stage, boolean production, String fingerprint) {
    Plenzo top = group.top();
    if (top.expect != null && (!production || top.yes)) {
      return top.expect;
    }
    return production
        ? typed(group, what, "the stage's name", stage, "--yes", fingerprint)
        : fingerprint;
  }

  /** What lost data asks for before going on, at every stage. */
  static String losing(
      Group group, String what, String sort, String name, String stage, String fingerprint) {
    Plenzo top = group.top();
    if (top.expect != null && name.equals(top.confirm)) {
      return top.expect;
    }
    return typed(
        group,
        what,
        "the " + sort + " and the stage",
        name + " " + stage,
        "--confirm " + name,
        fingerprint);
  }

  /** What clearing for good asks for before going on. */
  static String clearing(Group group, String what, String digest) {
    Plenzo top = group.top();
    return top.expect != null && top.yes
        ? top.expect
        : typed(group, what, "the word", "clear", "--yes", digest);
  }

  /** The fingerprint once the words were typed; without a terminal it is said what to add. */
  private static String typed(
      Group group, String what, String asked, String words, String option, String fingerprint) {
    Plenzo top = group.top();
    if (!top.canAsk()) {
      throw new Failed(
          Failed.NEEDS_CONFIRMATION,
          "NEEDS_CONFIRMATION",
          what + " That needs a confirmation.",
          List.of("Add " + option + " --expect " + fingerprint),
          "");
    }
    group.out().note(what);
    if (!top.ask("To go on, type " + asked + " (" + words + "): ").equals(words)) {
      throw new Failed(
          Failed.NEEDS_CONFIRMATION, "NOT_CONFIRMED", "Nothing was started.", List.of(), "");
    }
    return fingerprint;
  }

  static int exitCode(RunView run, Group group) {
    if (run.state().startsWith("done")) {
      return 0;
    }
    if (run.state().equals("paused")) {
      return Failed.PAUSED;
    }
    if (run.state().equals("half written")) {
      return Failed.HALF_WRITTEN;
    }
    return run.sentence() != null && run.sentence().startsWith("Aborted")
        ? Failed.ABORTED
        : Failed.RUN_FAILED;
  }

  /**
   * Follows a run to its end. Ctrl-C ends the client alone: that is said, with how to go on
   * watching and how to stop the run.
   */
  static int watch(Group group, String number) {
    Out out = group.out();
    AtomicReference<String> known = new AtomicReference<>("");
    Thread farewell =
        new Thread(
            () ->
                out.note(
                    "Watching ended; "
                        + number
                        + " goes on at the server"
                        + known.get()
                        + ". Watch it again: plenzo run watch "
                        + number));
    Runtime.getRuntime().addShutdownHook(farewell);
    try {
      return follow(group, number, known);
    } finally {
      forget(farewell);
    }
  }

  private static void forget(Thread farewell) {
    try {
      Runtime.getRuntime().removeShutdownHook(farewell);
    } catch (IllegalStateException e) {
      // the client is ending, and says so
    }
  }

  private static int follow(Group group, String number, AtomicReference<String> known) {
    Out out = group.out();
    long until = System.nanoTime() + group.top().waitLimit * 1_000_000_000L;
    String last = "";
    long said = System.nanoTime();
    while (true) {
      RunView run = group.api().get("/runs/" + Api.encode(number), RunView.class);
      RunStepView at =
          run.steps().stream()
              .filter(s -> s.state().equals("running") || s.state().equals("unknown"))
              .findFirst()
              .orElse(null);
      String now =
          at == null
              ? run.state()
              : "step "
                  + at.number()
                  + " of "
                  + run.steps().size()
                  + ": "
                  + at.name()
                  + (at.state().equals("unknown") ? " (unknown until the target answers)" : "");
      known.set(
          run.times().noReturnAt() == null
              ? ", and can be stopped: plenzo run abort " + number + " --reason …"
              : ", past its point of no return");
      boolean silent = System.nanoTime() - said > 30_000_000_000L;
      if (!run.ended() && (!now.equals(last) || silent)) {
        out.note(
            number
                + " "
                + (silent && now.equals(last) ? "still running, " : "")
                + now
                + ", "
                + elapsed(run)
                + (run.times().noReturnAt() == null
                    ? ", can be aborted"
                    : ", no return since " + out.time(run.times().noReturnAt())));
        said = System.nanoTime();
        last = now;
      }
      if (run.ended() || run.state().equals("paused")) {
        show(group, run);
        return exitCode(run, group);
      }
      if (System.nanoTime() > until) {
        throw new Failed(
            Failed.WAIT_OVER,
            "WAIT_OVER",
            "The wait limit is over; " + number + " goes on.",
            List.of("plenzo run watch " + number),
            "");
      }
      pause(200);
    }
  }

  private static String orNone(@Nullable String answer) {
    return answer == null ? "not answered" : answer.strip();
  }

  static String elapsed(RunView run) {
    Instant from =
        run.times().startedAt() == null ? run.times().queuedAt() : run.times().startedAt();
    return duration(
        Duration.between(
            from, run.times().endedAt() == null ? Instant.now() : run.times().endedAt()));
  }

  /** How long; not known where the clock was set back meanwhile. */
  static String duration(Duration d) {
    if (d.isNegative()) {
      return "a time that is not known (the clock was set back)";
    }
    if (d.toHours() >= TWO_DAYS) {
      return d.toDays() + " days " + d.toHoursPart() + " h";
    }
    if (d.toHours() > 0) {
      return d.toHours() + " h " + d.toMinutesPart() + " min";
    }
    return d.toSeconds() < 10
        ? String.format(java.util.Locale.ROOT, "%.1f s", d.toMillis() / 1000.0)
        : d.toMinutes() + ":" + String.format(java.util.Locale.ROOT, "%02d", d.toSecondsPart());
  }

  /** Where a next step is done. */
  private static String command(RunView r, String code) {
    String at = r.goal().application() + "@" + r.goal().site();
    return switch (code) {
      case "promotion" -> "plenzo promotion show " + r.promotion();
      case "ways-back" -> "plenzo rollback ways " + at;
      default -> "plenzo drift show " + at;
    };
  }

  /** "0:50 to 1:10 as in the last 6 runs": theirs, for as much as this one carries. */
  static String span(SpanView s) {
    String least = duration(Duration.ofMillis((long) (s.leastSeconds() * 1000)));
    String most = duration(Duration.ofMillis((long) (s.mostSeconds() * 1000)));
    return (least.equals(most) ? "about " + most : least + " to " + most)
        + (s.runs() == 0
            ? " by its size alone"
            : s.runs() == 1 ? " as in the last run" : " as in the last " + s.runs() + " runs");
  }

  /** Since when, for how long, and how long it usually is; empty where nothing is closed. */
  private static String usersOut(Out out, RunTimes t) {
    String usual = t.usersOutExpected() == null ? "" : "usually " + span(t.usersOutExpected());
    Instant since = t.usersOutSince();
    if (since == null) {
      return usual;
    }
    Instant in = t.usersInAgain();
    String now =
        in != null
            ? "for " + duration(Duration.between(since, in))
            : "since " + out.time(since) + (t.usersOut() ? "" : ", and let in again since");
    return usual.isEmpty() ? now : now + ", " + usual;
  }

  /** Ends, and a stand, at which somebody is woken. */
  private static final List<String> WRONG =
      List.of("half written", "failed, all put back", "stopped, nothing changed", "paused");

  static void show(Group group, RunView r) {
    Out out = group.out();
    if (out.json()) {
      out.document("run", r);
      return;
    }
    out.facts(
        "Run",
        r.number() + " of " + r.promotion() + about(r.goal().purpose()),
        "Version",
        r.goal().application()
            + "@"
            + r.goal().version()
            + (r.goal().before() == null ? "" : " instead of " + r.goal().before()),
        "Notes",
        r.goal().notes(),
        "At",
        out.site(r.goal().site(), r.goal().production()),
        "State",
        out.state(r.state()),
        "",
        "",
        "Result",
        r.sentence() == null ? "" : r.sentence(),
        "Next",
        r.next() == null ? "" : r.next().words() + " " + command(r, r.next().code()),
        "Started",
        r.times().startedAt() == null
            ? "waits in line, place "
                + r.place()
                + (r.waitsFor() == null ? "" : ", for " + r.waitsFor())
            : out.time(r.times().startedAt())
                + " by "
                + r.startedBy()
                + (r.ended() ? ", took " : ", for ")
                + elapsed(r),
        "Usually",
        r.times().expected() == null ? "no estimate: first run" : span(r.times().expected()),
        "Users out",
        usersOut(out, r.times()));
    if (WRONG.contains(r.state())) {
      out.line("What each target holds, and who may act: plenzo run night " + r.number());
    }
    for (RunStepView s : r.steps()) {
      String took =
          s.began() == null || s.ended() == null
              ? ""
              : " " + duration(Duration.between(s.began(), s.ended()));
      out.line(
          "  "
              + s.number()
              + ". "
              + s.name()
              + (s.manual() == null ? "" : ": " + s.manual().asked().title())
              + "  "
              + (s.manual() != null && s.state().equals("running") ? "waits" : s.state())
              + took
              + (s.note() == null ? "" : "  " + s.note()));
    }
    ByHand.charges(out, r);
    ByHand.paused(out, r);
    if (r.answers() == null) {
      out.line("What was answered is shown to those who may see values.");
    } else if (!r.answers().isEmpty()) {
      out.table(
          List.of("question", "before", "after", ""),
          r.answers().stream()
              .map(
                  a ->
                      List.of(
                          a.question(),
                          orNone(a.before()),
                          orNone(a.after()),
                          a.words() == null ? "" : a.words()))
              .toList());
    }
    if (r.backup() != null) {
      out.line(
          "Backup "
              + r.backup().name()
              + ": "
              + (r.backup().pieces().isEmpty()
                  ? ""
                  : Group.counted(r.backup().pieces().size(), "other component") + ", ")
              + Group.counted(r.backup().rows(), "row")
              + ", "
              + r.backup().proof());
    }
  }

  /** What a case is about, behind its number; empty when it brings a version. */
  static String about(String purpose) {
    return switch (purpose) {
      case "version" -> "";
      case "put-back" -> " (putting back)";
      case "values" -> " (values only)";
      default -> " (going back)";
    };
  }
}
