package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Manuals.ChargeView;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Manuals.ManualView;
import plenzo.api.Manuals.PauseView;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunView;

/** Work by hand as people write it, and as it is shown to them. */
final class ByHand {
  private ByHand() {}

  /** How it is given; shared by whatever asks for it. */
  static final class Given {
    @Option(
        names = "--by-hand",
        paramLabel = "\"WHEN [ROLE]: TEXT\"",
        description =
            "What people do outside Plenzo: when (before, closed, switched or after), the role that"
                + " does it, and what; repeatable, the whole list, \"\" for none.")
    @Nullable List<String> lines;

    @Option(
        names = "--by-hand-file",
        paramLabel = "FILE",
        description =
            "The same as a JSON list of when, who, text, link, minutes, proof and mayBeLeftOut.")
    @Nullable Path file;

    /** What was given; null when nothing was said, so that it stays as it is. */
    @Nullable List<ManualView> steps() {
      if (lines == null && file == null) {
        return null;
      }
      List<ManualView> out = new ArrayList<>();
      if (file != null) {
        out.addAll(read(file));
      }
      if (lines != null) {
        lines.stream().filter(l -> !l.isBlank()).map(ByHand::step).forEach(out::add);
      }
      return out;
    }
  }

  private static List<ManualView> read(Path file) {
    try {
      return List.of(Api.JSON.readValue(Files.readString(file), ManualView[].class));
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " cannot be read.");
    } catch (tools.jackson.core.JacksonException e) {
      throw Failed.usage(
          "The file "
              + file
              + " is no JSON list of work by hand: "
              + String.valueOf(e.getOriginalMessage())
              + ".",
          "[{\"when\": \"after\", \"who\": \"desk\", \"text\": \"Grant the desk access to zones 7 to 9\"}]");
    }
  }

  /** From {@code after desk: Grant the desk access to zones 7 to 9}. */
  static ManualView step(String line) {
    int colon = line.indexOf(':');
    String[] head = colon < 0 ? new String[0] : line.substring(0, colon).strip().split("\\s+");
    if (head.length < 1 || head.length > 2 || head[0].isEmpty()) {
      throw Failed.usage(
          "Write work by hand as \"after desk: Grant the desk access to zones 7 to 9\"; got \""
              + line
              + "\".");
    }
    return new ManualView(
        head[0],
        head.length == 2 ? head[1] : null,
        line.substring(colon + 1).strip(),
        null,
        null,
        null,
        null);
  }

  /** One as it is asked for: "after users are let in again, by desk: Grant …". */
  static void asked(Out out, AskedByHand a) {
    step(out, a.whenWords(), a.step(), " (" + a.origin() + ")");
  }

  private static void step(Out out, String when, ManualView s, String origin) {
    List<String> lines = s.text().lines().filter(l -> !l.isBlank()).toList();
    out.line("By hand, " + when + by(s) + ": " + lines.get(0) + origin);
    lines.stream().skip(1).forEach(l -> out.line("    " + l));
    if (s.link() != null && !s.link().isEmpty()) {
      out.line("    more: " + s.link());
    }
    String rules =
        String.join(
            ", ",
            java.util.stream.Stream.of(
                    s.minutes() == null || s.minutes() == 0
                        ? ""
                        : "within " + Group.counted(s.minutes(), "minute"),
                    Boolean.TRUE.equals(s.proof()) ? "with a file that shows it" : "",
                    Boolean.TRUE.equals(s.mayBeLeftOut()) ? "may be left out" : "")
                .filter(t -> !t.isEmpty())
                .toList());
    if (!rules.isEmpty()) {
      out.line("    " + rules);
    }
  }

  private static String by(ManualView s) {
    return s.who() == null || s.who().isEmpty() ? "" : ", by " + s.who();
  }

  /** Those of a version or leg. */
  static void steps(Out out, @Nullable List<ManualView> all) {
    if (all != null) {
      all.forEach(s -> step(out, s.when(), s, ""));
    }
  }

  /** What a paused run waits for, who is asked, and how it goes on. */
  static void paused(Out out, RunView r) {
    PauseView p = r.steering().pause();
    if (p == null) {
      return;
    }
    out.line("");
    out.line(
        "Paused since "
            + out.time(p.since())
            + " before step "
            + p.step()
            + (p.code().equals("person") ? " by " + p.by() + ": " + p.reason() : ""));
    for (RunStepView s : r.steps()) {
      HandedView h = s.manual();
      if (h != null
          && h.since() != null
          && !s.state().equals("done")
          && !s.state().equals("left out")) {
        handed(out, r, s, h);
      }
    }
    if (p.code().equals("person")) {
      out.line("Goes on by: plenzo run resume " + r.number());
    }
    if (p.code().equals("answers")) {
      out.line("Users are kept out: " + p.reason());
      out.line(
          "Ask again: plenzo run resume "
              + r.number()
              + "; let them in all the same: plenzo run let-in "
              + r.number()
              + " --reason …");
    }
    if (r.times().noReturnAt() != null && !r.goal().purpose().isEmpty() && allowed(r, "end")) {
      out.line(
          "To go back from here: plenzo run end "
              + r.number()
              + " --reason …, then plenzo rollback ways "
              + r.goal().application()
              + "@"
              + r.goal().site());
    }
  }

  private static boolean allowed(RunView r, String act) {
    return r.steering().may().containsKey(act) && r.steering().may().get(act).allowed();
  }

  private static void handed(Out out, RunView r, RunStepView s, HandedView h) {
    asked(out, h.asked());
    Instant due = h.due();
    if (due != null) {
      out.line("    by " + out.time(due) + (h.overdue() ? ": overdue" : ""));
    }
    if (h.takenBy() != null) {
      out.line("    " + h.takenBy() + " is at it");
    }
    if (h.outcome() != null) {
      out.line("    " + h.by() + " says it could not be done: " + h.note());
    }
    out.line(
        h.who().isEmpty()
            ? "    nobody may say that it is done: plenzo role grant LOGIN …"
            : "    asked of " + String.join(", ", h.who()));
    out.line(
        "    plenzo run done "
            + r.number()
            + " "
            + s.number()
            + " --note …, or plenzo run not-done "
            + r.number()
            + " "
            + s.number()
            + " --reason …"
            + (Boolean.TRUE.equals(h.asked().step().mayBeLeftOut())
                ? ", or plenzo run leave-out " + r.number() + " " + s.number() + " --reason …"
                : ""));
  }

  /** Who took a run over from whom. */
  static void charges(Out out, RunView r) {
    for (ChargeView c : r.steering().charges()) {
      out.line(
          "Taken over by "
              + c.by()
              + " from "
              + c.from()
              + " "
              + out.time(c.at())
              + ": "
              + c.reason());
    }
  }
}
