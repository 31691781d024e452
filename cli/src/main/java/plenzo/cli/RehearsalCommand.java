package plenzo.cli;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Rehearsals.RehearsalPart;
import plenzo.api.Rehearsals.RehearsalView;
import plenzo.api.Rehearsals.TryDraft;

@Command(
    name = "rehearsal",
    description =
        "A plan carried out on copies of what it can touch, and taken back there; the site itself"
            + " is only read.",
    footer = {
      "",
      "Examples:",
      "  plenzo rehearsal start P-15 --wait",
      "  plenzo rehearsal try D-7 --at test/main --wait",
      "  plenzo rehearsal show RH-1"
    })
final class RehearsalCommand extends Group {
  @Command(name = "list", description = "All of them, newest first.")
  void list(
      @Option(names = "--app") @Nullable String app,
      @Option(names = "--promotion") @Nullable String promotion,
      @Option(names = "--draft", description = "Trials of that draft.") @Nullable String draft) {
    out()
        .list(
            "rehearsals",
            api()
                .pages(
                    "/rehearsals"
                        + Api.query("application", app, "promotion", promotion, "draft", draft),
                    RehearsalView.class,
                    out().wanted()),
            List.of("rehearsal", "of", "version", "at", "result", "plan", "by", "began"),
            r ->
                List.of(
                    r.number(),
                    of(r),
                    r.application() + "@" + r.version(),
                    r.site(),
                    words(r.result()),
                    r.ofThisPlan() ? "as it is now" : "another",
                    r.by(),
                    out().time(r.began())));
  }

  @Command(
      name = "start",
      description = {
        "Copies the rows and files that the plan can touch, carries the plan out there, compares,"
            + " takes it back by the backup and compares again.",
        "It reads at the site as much as the backup of a run does, and takes as much room at its"
            + " database server and beside its directory until it ends. Changes nothing there."
      })
  int start(@Parameters(paramLabel = "PROMOTION") String promotion) {
    RehearsalView begun =
        api()
            .post(
                "/promotions/" + Api.encode(promotion) + "/rehearse",
                Map.of(),
                RehearsalView.class);
    return followed(begun);
  }

  @Command(
      name = "try",
      description = {
        "Tries a draft before it is sealed: what sealing would make of it is compared with the site,"
            + " planned, carried out on copies, taken back and compared again.",
        "Reads at the draft's sources and at the site; changes nothing there, and the draft stays"
            + " one."
      })
  int tryDraft(
      @Parameters(paramLabel = "DRAFT") String draft,
      @Option(names = "--at", required = true, paramLabel = "STAGE/SITE") String site) {
    return followed(
        api()
            .post(
                "/drafts/" + Api.encode(draft) + "/try", new TryDraft(site), RehearsalView.class));
  }

  private static String of(RehearsalView r) {
    return r.draft() == null ? r.promotion() : r.draft();
  }

  private int followed(RehearsalView begun) {
    if (!top().wait) {
      if (out().json()) {
        out().document("rehearsal", begun);
      } else {
        out().line(begun.number() + " has begun. Next: plenzo rehearsal show " + begun.number());
      }
      return 0;
    }
    RehearsalView r =
        until(
            () -> get(begun.number()),
            x -> x.ended() != null,
            "The wait limit is over; " + begun.number() + " goes on.",
            "plenzo rehearsal show " + begun.number());
    told(r);
    return exitCode(r);
  }

  /** A result as people read it. */
  static String words(String result) {
    return switch (result) {
      case "going-on" -> "goes on";
      case "proven" -> "came through";
      case "carried-out" -> "was carried out, no way back tried";
      case "failed" -> "failed";
      case "stopped" -> "was stopped";
      default -> result;
    };
  }

  static int exitCode(RehearsalView r) {
    return switch (r.result()) {
      case "failed" -> Failed.RUN_FAILED;
      case "stopped" -> Failed.ABORTED;
      default -> 0;
    };
  }

  @Command(name = "show", description = "What was done on the copy, how long it took, what not.")
  void show(@Parameters(paramLabel = "REHEARSAL") String number) {
    told(get(number));
  }

  @Command(name = "stop", description = "Stops one that goes on; its copies go.")
  void stop(@Parameters(paramLabel = "REHEARSAL") String number) {
    api().post(path(number) + "/stop", Map.of(), RehearsalView.class);
    out().line(number + " stops at its next step. Next: plenzo rehearsal show " + number);
  }

  private static String path(String number) {
    return "/rehearsals/" + Api.encode(number);
  }

  private RehearsalView get(String number) {
    return api().get(path(number), RehearsalView.class);
  }

  private void told(RehearsalView r) {
    if (out().json()) {
      out().document("rehearsal", r);
      return;
    }
    out()
        .facts(
            "Rehearsal",
            r.number() + " of " + of(r) + " " + words(r.result()),
            "Of",
            r.application() + "@" + r.version() + " at a copy of " + r.site(),
            "Plan",
            (r.fingerprint().isEmpty() ? "none yet" : r.fingerprint())
                + (r.ofThisPlan() ? "" : ", which is not its plan any more"),
            "Result",
            r.sentence().isEmpty() ? "it goes on" : r.sentence(),
            "Started",
            out().time(r.began())
                + " by "
                + r.by()
                + (r.ended() == null
                    ? ""
                    : ", took " + RunText.duration(Duration.between(r.began(), r.ended()))));
    int n = 0;
    for (RehearsalPart p : r.parts()) {
      out()
          .line(
              "  "
                  + ++n
                  + ". "
                  + p.name()
                  + "  "
                  + (p.seconds() == null
                      ? r.ended() == null ? "goes on" : "did not end"
                      : RunText.duration(Duration.ofMillis((long) (p.seconds() * 1000))))
                  + (p.note().isEmpty() ? "" : "  " + p.note()));
    }
    if (!r.beside().isEmpty()) {
      out().line("Not rehearsed:");
      r.beside().forEach(b -> out().line("  - " + b));
    }
  }
}
