package plenzo.cli;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Manuals.ManualView;
import plenzo.api.Stages.ClosingView;
import plenzo.api.Stages.EmergencyView;
import plenzo.api.Stages.LegView;
import plenzo.api.Stages.OnwardView;
import plenzo.api.Stages.OutsideView;
import plenzo.api.Stages.PathView;
import plenzo.api.Stages.QuorumView;

@Command(
    name = "path",
    description = "The stages that versions travel, and where they come from.",
    footer = {
      "",
      "Examples:",
      "  plenzo path list",
      "  plenzo path new ordinary --name Ordinary --source development --leg test --leg production",
      "  plenzo path new received --name Received --leg trial --leg production",
      "  plenzo path change ordinary --leg test --leg trial --leg production",
      "  plenzo path gates ordinary production --approvals change-board=2 --verdict true"
    })
final class PathCommand extends Group {
  @Command(name = "list", description = "All paths.")
  void list() {
    out()
        .list(
            "paths",
            api().list("/paths", PathView.class),
            List.of("path", "name", "source", "stages"),
            p ->
                List.of(
                    p.key(), p.name(), p.source() == null ? "packages" : p.source(), stages(p)));
  }

  @Command(name = "new", description = "Lays a path.")
  void make(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name", required = true) String name,
      @Option(
              names = "--source",
              description =
                  "Stage in which applications are edited; leave it out where every version comes"
                      + " as a package.")
          @Nullable String source,
      @Option(names = "--leg", required = true, description = "A stage, in order; repeatable.")
          List<String> legs) {
    said(
        api()
            .post(
                "/paths",
                new PathView(
                    key, name, source, legs.stream().map(PathCommand::usual).toList(), null),
                PathView.class));
  }

  @Command(
      name = "change",
      description = {
        "Lets versions travel otherwise from now on; what is not named stays.",
        "Refused while a promotion to a stage that is left out is open."
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--name") @Nullable String name,
      @Option(names = "--source") @Nullable String source,
      @Option(names = "--no-source", description = "Versions come as packages alone.") boolean none,
      @Option(names = "--leg", description = "All stages anew, in order; repeatable.")
          @Nullable List<String> legs) {
    if (none && source != null) {
      throw Failed.usage("Name a source, or say --no-source.");
    }
    PathView old = find(key);
    said(
        api()
            .put(
                "/paths/" + Api.encode(key),
                new PathView(
                    key,
                    name == null ? old.name() : name,
                    none ? null : source == null ? old.source() : source,
                    legs == null ? old.legs() : legs.stream().map(s -> leg(old, s)).toList(),
                    old.revision()),
                PathView.class));
  }

  @Command(name = "show", description = "A path with what each of its legs asks of promotions.")
  void show(@Parameters(paramLabel = "KEY") String key) {
    PathView p = find(key);
    if (out().json()) {
      out().document("path", p);
      return;
    }
    out()
        .facts(
            "Path",
            p.key(),
            "Name",
            p.name(),
            "From",
            p.source() == null ? "packages" : p.source());
    for (LegView leg : p.legs()) {
      gates(leg);
    }
  }

  private void gates(LegView leg) {
    out().line("");
    out().line("To " + leg.stage() + " a promotion needs:");
    List<String> asks = leg.words() == null ? List.of() : leg.words();
    asks.forEach(a -> out().line("  " + a));
    if (asks.isEmpty()) {
      out().line("  nothing but what holds everywhere: no blocker, connections tested green");
    }
  }

  @Command(
      name = "gates",
      description = {
        "Changes what a leg asks of promotions; what is not named stays.",
        "Open promotions by this path are judged anew: a yes to a plan with other gates falls."
      },
      footer = {
        "",
        "Examples:",
        "  plenzo path gates ordinary production --approvals change-board=2 --approvals owner=1",
        "  plenzo path gates ordinary production --verdict true --soak-days 3 --apart author-approver",
        "  plenzo path gates urgent production --emergency approvals --emergency-people 2",
        "  plenzo path gates ordinary production --by-hand \"before desk: Tell the terminals\""
      })
  void change(
      @Parameters(paramLabel = "KEY") String key,
      @Parameters(paramLabel = "STAGE") String stage,
      @Option(
              names = "--approvals",
              paramLabel = "[ROLE=]COUNT",
              description =
                  "How many must say yes: of a role, or of whoever may approve; the whole list, 0 for"
                      + " none.")
          @Nullable List<String> approvals,
      @Option(
              names = "--approval-days",
              description = "Days after which a yes no longer counts, 0 for never.")
          @Nullable Integer approvalDays,
      @Option(
              names = "--verdict",
              arity = "1",
              paramLabel = "true|false",
              description = "The version must be judged good at the stage before.")
          @Nullable Boolean verdict,
      @Option(
              names = "--every-site",
              arity = "1",
              paramLabel = "true|false",
              description = "The version must be at every site of the stage before.")
          @Nullable Boolean everySite,
      @Option(
              names = "--soak-days",
              description = "Days that the version must have been at the stage before.")
          @Nullable Integer soakDays,
      @Option(
              names = "--task",
              paramLabel = "PATTERN",
              description =
                  "Regular expression that one of the version's tasks matches, \"\" for none.")
          @Nullable String task,
      @Option(
              names = "--proof",
              arity = "1",
              paramLabel = "true|false",
              description = "The backup must be proven by restoring it.")
          @Nullable Boolean proof,
      @Option(
              names = "--apart",
              paramLabel = "DUTY-DUTY",
              description =
                  "Two of author, preparer, approver, runner, tester that are two people; the whole"
                      + " list, \"\" for none.")
          @Nullable List<String> apart,
      @Option(
              names = "--emergency",
              paramLabel = "GATE",
              description =
                  "A gate that an emergency may pass: approvals, calendar, evidence-before, every-site-before, judged-before, rehearsal,"
                      + " soak or task; the whole list, \"\" to let none pass.")
          @Nullable List<String> owes,
      @Option(
              names = "--emergency-people",
              description = "How many declare an emergency, 1 or 2 (2 where nothing was said).")
          @Nullable Integer people,
      @Option(
              names = "--emergency-hours",
              description =
                  "Hours within which the yes must come that is owed then (24 where nothing was"
                      + " said).")
          @Nullable Integer hours,
      @Option(
              names = "--emergency-tell",
              paramLabel = "LOGIN",
              description =
                  "Who is told as soon as one is declared; repeatable, all of them anew, '' for"
                      + " nobody.")
          @Nullable List<String> told,
      @Option(
              names = "--when-failed",
              paramLabel = "look|pause|back",
              description =
                  "What a run does when an answer after its switch is not as it should be: let users in and say"
                      + " so, keep them out until a person decides, or go back by itself.")
          @Nullable String whenFailed,
      @Option(
              names = "--evidence",
              arity = "1",
              paramLabel = "true|false",
              description =
                  "A test report of the version without a failure must have been given at the stage"
                      + " before.")
          @Nullable Boolean evidence,
      @Option(
              names = "--rehearsal",
              arity = "1",
              paramLabel = "true|false",
              description = "Its plan must have been carried out on a copy, and taken back there.")
          @Nullable Boolean rehearsal,
      @Option(
              names = "--wait-for-work",
              paramLabel = "SECONDS",
              description =
                  "How long a run waits for running work to end before it gives up, nothing"
                      + " changed; 60 where nothing is said.")
          @Nullable Integer patience,
      @Option(
              names = "--tell-before",
              paramLabel = "MINUTES",
              description =
                  "How long before people at the host are told that they will be kept out; 0 for"
                      + " not.")
          @Nullable Integer before,
      @Option(
              names = "--notice",
              paramLabel = "TEXT",
              description = "What people read who come while they are kept out.")
          @Nullable String notice,
      @Option(
              names = "--outside",
              paramLabel = "NAME",
              description = "Who else must say yes, asked over the network by a signed question.")
          @Nullable String askName,
      @Option(
              names = "--outside-at",
              paramLabel = "ADDRESS",
              description = "Where that question is posted.")
          @Nullable String askAt,
      @Option(
              names = "--outside-seconds",
              paramLabel = "SECONDS",
              description =
                  "How long an answer is waited for; none counts as no. 10 where nothing is said,"
                      + " 0 asks nobody any more.")
          @Nullable Integer askSeconds,
      @Option(
              names = "--onward",
              paramLabel = "by-hand|prepared|run",
              description =
                  "How far a version that may come goes without anybody starting that, by your"
                      + " rights: its promotion is prepared, or prepared and run when every gate is"
                      + " open.")
          @Nullable String onward,
      @Mixin ByHand.Given byHand) {
    List<ManualView> manual = byHand.steps();
    PathView old = find(key);
    LegView had =
        old.legs().stream()
            .filter(l -> l.stage().equals(stage))
            .findFirst()
            .orElseThrow(
                () ->
                    Failed.notFound(
                        "The path " + key + " does not go to \"" + stage + "\".",
                        "plenzo path show " + key));
    LegView next =
        new LegView(
            stage,
            approvals == null ? had.approvals() : quorums(approvals),
            approvalDays == null ? had.approvalDays() : approvalDays,
            verdict == null ? had.verdict() : verdict,
            everySite == null ? had.everySite() : everySite,
            soakDays == null ? had.soakDays() : soakDays,
            task == null ? had.task() : task,
            proof == null ? had.proof() : proof,
            apart == null ? had.apart() : apart.stream().filter(a -> !a.isBlank()).toList(),
            emergency(had.emergency(), owes, people, hours, told),
            null,
            manual == null ? had.manual() : manual,
            whenFailed == null ? had.whenFailed() : whenFailed,
            evidence == null ? had.evidence() : evidence,
            rehearsal == null ? had.rehearsal() : rehearsal,
            closing(had.closing(), patience, before, notice),
            outside(had.outside(), askName, askAt, askSeconds),
            onward == null ? null : new OnwardView(onward, null));
    PathView p =
        api()
            .put(
                "/paths/" + Api.encode(key),
                new PathView(
                    key,
                    old.name(),
                    old.source(),
                    old.legs().stream().map(l -> l.stage().equals(stage) ? next : l).toList(),
                    old.revision()),
                PathView.class);
    if (out().json()) {
      out().document("path", p);
      return;
    }
    p.legs().stream().filter(l -> l.stage().equals(stage)).forEach(this::gates);
  }

  /** What is not named stays; 0 seconds ask nobody any more. */
  private static @Nullable OutsideView outside(
      @Nullable OutsideView had,
      @Nullable String name,
      @Nullable String address,
      @Nullable Integer seconds) {
    if (name == null && address == null && seconds == null) {
      return had;
    }
    if (had == null && (name == null || address == null)) {
      throw Failed.usage(
          "Say who is asked outside, and where: --outside NAME --outside-at ADDRESS");
    }
    return new OutsideView(
        name != null ? name : had == null ? "" : had.name(),
        address != null ? address : had == null ? "" : had.address(),
        seconds != null ? seconds : had == null ? 10 : had.seconds());
  }

  private static @Nullable ClosingView closing(
      @Nullable ClosingView had,
      @Nullable Integer seconds,
      @Nullable Integer minutes,
      @Nullable String notice) {
    if (seconds == null && minutes == null && notice == null) {
      return had;
    }
    return new ClosingView(
        seconds != null ? seconds : had == null ? 60 : had.seconds(),
        minutes != null ? minutes : had == null ? null : had.minutes(),
        notice != null ? notice : had == null ? "" : had.notice());
  }

  /** What is not named stays; null where nothing is said and nothing was. */
  private static @Nullable EmergencyView emergency(
      @Nullable EmergencyView had,
      @Nullable List<String> owes,
      @Nullable Integer people,
      @Nullable Integer hours,
      @Nullable List<String> told) {
    List<String> passes =
        owes == null
            ? had == null ? List.of() : had.owes()
            : owes.stream().filter(o -> !o.isBlank()).toList();
    if (passes.isEmpty()) {
      if (people != null || hours != null || told != null) {
        throw Failed.usage("Say which gates an emergency may pass: --emergency approvals.");
      }
      return had == null ? null : new EmergencyView(0, List.of(), 0, null);
    }
    return new EmergencyView(
        people != null ? people : had == null ? 2 : had.people(),
        passes,
        hours != null ? hours : had == null ? 24 : had.hours(),
        told != null
            ? told.stream().filter(l -> !l.isBlank()).toList()
            : had == null ? null : had.tells());
  }

  private static List<QuorumView> quorums(List<String> asked) {
    List<QuorumView> out = new ArrayList<>();
    for (String one : asked) {
      int at = one.lastIndexOf('=');
      String count = one.substring(at + 1);
      if (!count.matches("[0-9]{1,3}")) {
        throw Failed.usage("Approvals are written 2, or change-board=2.");
      }
      if (!count.equals("0")) {
        out.add(new QuorumView(at < 0 ? "" : one.substring(0, at), Integer.parseInt(count)));
      }
    }
    return out;
  }

  private PathView find(String key) {
    return api().list("/paths", PathView.class).stream()
        .filter(p -> p.key().equals(key))
        .findFirst()
        .orElseThrow(
            () -> Failed.notFound("There is no path \"" + key + "\".", "plenzo path list"));
  }

  /** A leg of which nothing is said: the service gives it what such a stage is usually asked. */
  private static LegView usual(String stage) {
    return new LegView(
        stage, null, null, null, null, null, null, null, null, null, null, null, null, null, null,
        null, null, null);
  }

  /** The leg as it is, or a usual one. */
  private static LegView leg(PathView old, String stage) {
    return old.legs().stream()
        .filter(l -> l.stage().equals(stage))
        .findFirst()
        .orElseGet(() -> usual(stage));
  }

  private static String stages(PathView p) {
    return String.join(", ", p.legs().stream().map(LegView::stage).toList());
  }

  private void said(PathView p) {
    if (out().json()) {
      out().document("path", p);
      return;
    }
    out()
        .line(
            "Path "
                + p.key()
                + " goes "
                + (p.source() == null ? "" : "from " + p.source() + " ")
                + "to "
                + stages(p)
                + (p.source() == null ? "; versions come as packages." : "."));
  }
}
