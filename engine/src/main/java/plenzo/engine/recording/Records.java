package plenzo.engine.recording;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.evidence.Evidence;
import plenzo.core.history.HistoryEntry;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.manual.Handed;
import plenzo.core.person.Person;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Release;
import plenzo.core.report.Report;
import plenzo.core.report.Report.Section;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.run.Sheet;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.VersionHead;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.looking.History;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.releasing.Releases;

/**
 * One document of a promotion or a release: what it brought, what was asked and said, what its runs
 * used and did. It is made of what was kept then; what was not kept is not in it.
 */
public final class Records {
  static final List<String> COMPONENT =
      List.of("component", "difference", "added", "changed", "removed");

  private final Tools tools;
  private final Promotions promotions;
  private final Releases releases;
  private final CaseWork work;
  private final History history;

  public Records(
      Tools tools, Promotions promotions, Releases releases, CaseWork work, History history) {
    this.tools = tools;
    this.promotions = promotions;
    this.releases = releases;
    this.work = work;
    this.history = history;
  }

  /**
   * @param values whether the person may see values of the running system: without, answers and
   *     rows are left out
   */
  public Report of(Person by, long number, boolean values) {
    Promotion p = promotions.get(by, number);
    return new Report.Builder(
            p.shown() + ": " + p.application() + " " + p.version() + " to " + p.site(), tools.now())
        .add(sections(by, p, values))
        .build();
  }

  /** All cases of a release that the person may see, one after the other. */
  public Report release(Person by, String key, boolean values) {
    Release r = releases.get(by, key);
    Report.Builder out =
        new Report.Builder("Release " + r.key() + ": " + r.title(), tools.now())
            .table(
                "Members",
                "It has none.",
                List.of("application", "version"),
                r.members().stream()
                    .map(m -> Report.row(m.application(), m.number().text()))
                    .toList());
    List<Promotion> cases =
        tools.keeper().read(kept -> kept.promotions().list(Kept.Filter.all())).stream()
            .filter(p -> key.equals(p.release()))
            .filter(p -> by.may(plenzo.core.person.Right.LOOK, p.site().stage(), p.application()))
            .toList();
    for (Promotion p : cases) {
      out.text(
          p.shown() + " " + p.application() + " " + p.version() + " to " + p.site(),
          p.state().code());
      out.add(sections(by, p, values));
    }
    return out.build();
  }

  private List<Section> sections(Person by, Promotion p, boolean values) {
    Report.Builder out = new Report.Builder("", tools.now());
    VersionHead v =
        tools.keeper().read(kept -> kept.versions().list(p.application())).stream()
            .filter(h -> h.number().equals(p.version()))
            .findFirst()
            .orElse(null);
    out.facts(
        "What it brings",
        "Application",
        p.application(),
        "Version",
        p.version() + (v == null ? "" : ", digest " + v.digest().hex()),
        "Title",
        v == null ? null : v.title(),
        "Sealed",
        v == null ? null : Report.time(v.sealedAt()) + " by " + v.author() + ", from " + v.source(),
        "Tasks",
        v == null ? null : String.join(", ", v.tasks()),
        "To",
        p.site().toString(),
        "In place of",
        p.present() == null ? null : p.present().text(),
        "Purpose",
        p.purpose().code(),
        "By the path",
        p.path(),
        "Prepared",
        Report.time(p.prepared().at()) + " by " + p.preparedBy(),
        "State",
        p.state().code() + (p.sentence() == null ? "" : ": " + p.sentence()),
        "Notes",
        p.notes());
    plan(out, p, values);
    said(out, p);
    for (Run r : tools.keeper().read(kept -> kept.runs().of(p.number()))) {
      run(out, r, values);
    }
    evidence(out, p);
    verdicts(out, p);
    events(out, by, p);
    return out.build().sections();
  }

  /** Keys of rows are values too. */
  private static String place(String place, boolean values) {
    int row = place.indexOf("#row");
    return values || row < 0 ? place : place.substring(0, row) + ", a row";
  }

  private static void plan(Report.Builder out, Promotion p, boolean values) {
    Plan plan = p.plan();
    if (plan == null) {
      out.text("Plan", "None was made.");
      return;
    }
    out.facts(
        "Plan",
        "Fingerprint",
        plan.fingerprint().shown() + " (" + plan.fingerprint().digest().hex() + ")",
        "Compared",
        p.comparedAt() == null ? null : Report.time(p.comparedAt()),
        "Counts",
        p.counts().added()
            + " added, "
            + p.counts().changed()
            + " changed, "
            + p.counts().removed()
            + " removed");
    out.table(
        "Steps of the plan",
        "None.",
        List.of("step", "what"),
        plan.steps().stream().map(s -> Report.row(String.valueOf(s.number()), s.name())).toList());
    out.table(
        "Gates that it falls under",
        "None.",
        List.of("gate", "what"),
        plan.gates().stream().map(g -> Report.row(g.code(), g.words())).toList());
    out.table(
        "Components",
        "Nothing differed.",
        COMPONENT,
        p.components().stream().map(Records::component).toList());
    out.table(
        "Findings",
        "None.",
        List.of("rule", "severity", "place", "what", "accepted"),
        p.findings().stream().map(f -> finding(f, values)).toList());
    out.table(
        "Decided conflicts",
        "None were to be decided.",
        List.of("place", "decision"),
        p.choices().decisions().entrySet().stream()
            .sorted(Map.Entry.comparingByKey())
            .map(e -> Report.row(place(e.getKey(), values), e.getValue().code()))
            .toList());
    out.table(
        "Values that the host is given",
        "None.",
        List.of("input", "set at", "what people may see of it", "since"),
        p.gives().stream()
            .map(
                g ->
                    Report.row(
                        g.input(),
                        g.from().isEmpty() ? "the input's own" : g.from(),
                        g.shown(),
                        g.setAt() == null ? "" : Report.time(g.setAt())))
            .toList());
  }

  /** How much a component differs, under the heads {@link #COMPONENT}. */
  static List<String> component(Promotion.ComponentResult c) {
    return Report.row(
        c.key().toString(),
        c.difference().code(),
        String.valueOf(c.counts().added()),
        String.valueOf(c.counts().changed()),
        String.valueOf(c.counts().removed()));
  }

  private static List<String> finding(Finding f, boolean values) {
    Finding.Acceptance a = f.accepted();
    return Report.row(
        f.rule(),
        f.severity().code() + (f.built() == null ? "" : ", by the rule itself " + f.built().code()),
        place(f.place(), values),
        f.sentence(),
        a == null ? "" : "by " + a.by() + " until " + a.until() + ": " + a.reason());
  }

  private static void said(Report.Builder out, Promotion p) {
    out.table(
        "What was said of the plan",
        "Nobody said anything.",
        List.of("who", "roles then", "what", "plan", "when", "comment", "counts"),
        p.approvals().stream()
            .map(
                a ->
                    Report.row(
                        a.words(),
                        a.roles() == null ? "not kept" : String.join(", ", a.roles()),
                        a.yes() ? "yes" : "no",
                        a.fingerprint().substring(0, 12),
                        Report.time(a.at()),
                        a.comment(),
                        a.voidBecause() == null ? "yes" : "no: " + a.voidBecause()))
            .toList());
    if (p.urgency() != null) {
      out.table(
          "Declared an emergency",
          "By nobody.",
          List.of("who", "when", "why"),
          p.urgency().said().stream()
              .map(s -> Report.row(s.by(), Report.time(s.at()), s.reason()))
              .toList());
    }
  }

  private void run(Report.Builder out, Run r, boolean values) {
    Run.Backup backup = r.backup();
    out.facts(
        r.shown(),
        "Result",
        r.state().code() + (r.sentence() == null ? "" : ": " + r.sentence()),
        "Started",
        Report.time(r.startedAt() == null ? r.queuedAt() : r.startedAt()) + " by " + r.startedBy(),
        "Ended",
        r.endedAt() == null ? null : Report.time(r.endedAt()),
        "No return from",
        r.noReturnAt() == null ? null : Report.time(r.noReturnAt()),
        "Users out",
        r.usersOutSince()
            .map(
                t ->
                    "from "
                        + Report.time(t)
                        + r.usersInAgain()
                            .map(i -> " to " + Report.time(i))
                            .orElse(", not in again"))
            .orElse(null),
        "Answers for it",
        r.inCharge(),
        "Plan",
        r.fingerprint().substring(0, 12),
        "Backup",
        backup == null
            ? null
            : backup.name()
                + ", "
                + Words.count(backup.rows(), "row")
                + ", "
                + Words.count(backup.pieces().size(), "other component")
                + ", "
                + backup.proof()
                + ", list "
                + backup.digest());
    out.table(
        r.shown() + ": targets and technical accounts",
        "None were kept.",
        List.of("target", "account", "led to", "revision"),
        r.goal().targets().stream()
            .map(
                t ->
                    Report.row(
                        t.shown(),
                        account(r, t),
                        t.leadsTo(),
                        String.valueOf(t.connectionRevision())))
            .toList());
    out.table(
        r.shown() + ": steps",
        "None.",
        List.of("step", "what", "state", "took", "note"),
        r.steps().stream().map(Records::step).toList());
    work.sheet(r.number()).ifPresent(s -> found(out, r, s));
    if (!r.answers().judged().isEmpty()) {
      out.table(
          r.shown() + ": questions to the running system",
          "None.",
          List.of("question", "before", "after", "both together"),
          r.answers().judged().entrySet().stream()
              .sorted(Map.Entry.comparingByKey())
              .map(
                  e ->
                      Report.row(
                          e.getKey(),
                          values ? answer(r.answers().before(), e.getKey()) : "not yours to see",
                          values ? answer(r.answers().after(), e.getKey()) : "not yours to see",
                          e.getValue().words()))
              .toList());
    }
  }

  /** What stood there when it had read its site back, with who owned it at the target. */
  private static void found(Report.Builder out, Run r, Sheet s) {
    out.table(
        r.shown() + ": what stood there afterwards",
        "Nothing was written.",
        List.of("component", "planned", "found", "active", "last changed there by", "where"),
        s.lines().stream()
            .map(
                l ->
                    Report.row(
                        l.component(),
                        l.planned() + (l.asPlanned() ? "" : ", NOT as planned"),
                        l.found(),
                        l.active() == null ? "" : l.active() ? "on" : "off",
                        l.by() == null ? "" : l.by(),
                        l.where()))
            .toList());
    List<String> beside = new ArrayList<>();
    if (s.more() > 0) {
      beside.add(
          Words.count(s.more(), "component")
              + (s.more() == 1 ? " more was" : " more were")
              + " written.");
    }
    s.odd().forEach(o -> beside.add("Not as planned: " + o));
    s.uncarried().forEach(u -> beside.add("Only named, not carried: " + u));
    if (!beside.isEmpty()) {
      out.text(r.shown() + ": beside that", String.join("\n", beside));
    }
  }

  private static String answer(Map<String, plenzo.core.probe.Answer> said, String question) {
    return Optional.ofNullable(said.get(question)).map(plenzo.core.probe.Answer::text).orElse("");
  }

  /**
   * The account that the run kept. Of a run that kept none it is the connection's of now, which is
   * said where it was changed since.
   */
  private String account(Run r, Run.Place t) {
    if (t.account() != null) {
      return t.account();
    }
    return tools
        .keeper()
        .read(kept -> kept.connections().find(r.site().stage() + "/" + t.changing()))
        .map(
            c ->
                c.account()
                    + (c.revision() == t.connectionRevision()
                        ? ""
                        : " (the connection was changed since)"))
        .orElse("");
  }

  private static List<String> step(RunStep s) {
    @Nullable Handed manual = s.manual();
    return Report.row(
        String.valueOf(s.number()),
        s.name(),
        s.state().code(),
        s.began() == null || s.ended() == null
            ? ""
            : Duration.between(s.began(), s.ended()).toMillis() + " ms",
        (s.note() == null ? "" : s.note())
            + (manual == null || manual.word() == null ? "" : " " + manual.word().words()));
  }

  private void evidence(Report.Builder out, Promotion p) {
    List<Evidence> all =
        tools
            .keeper()
            .read(kept -> kept.evidence().list(Kept.Filter.at(p.application(), p.site())))
            .stream()
            .filter(e -> e.version().equals(p.version()))
            .toList();
    out.table(
        "Evidence",
        "None was given.",
        List.of("file", "what it shows", "tests", "by", "when", "digest"),
        all.stream()
            .map(
                e ->
                    Report.row(
                        e.shown() + " " + e.name(),
                        e.about(),
                        e.report() == null
                            ? ""
                            : e.report().tests() + ", failed " + e.report().bad(),
                        e.by(),
                        Report.time(e.at()),
                        e.digest().hex()))
            .toList());
  }

  private void verdicts(Report.Builder out, Promotion p) {
    List<SiteRecord.Verdict> all =
        tools
            .keeper()
            .read(kept -> kept.sites().find(p.application() + "@" + p.site()))
            .map(SiteRecord::verdicts)
            .orElse(List.of())
            .stream()
            .filter(v -> v.version().equals(p.version()))
            .toList();
    out.table(
        "Verdicts",
        "Nobody judged it there.",
        List.of("verdict", "by", "when", "why"),
        all.stream()
            .map(
                v -> Report.row(v.good() ? "good" : "bad", v.by(), Report.time(v.at()), v.reason()))
            .toList());
  }

  /** What the history says of it, as far as the person may see it. */
  private void events(Report.Builder out, Person by, Promotion p) {
    List<List<String>> rows = new ArrayList<>();
    long from = 0;
    boolean before = false;
    do {
      var part =
          history.list(
              by, new Kept.HistoryFilter(p.application(), p.site().stage(), null, null, from, 400));
      for (HistoryEntry e : part.items()) {
        before |= e.at().isBefore(p.prepared().at());
        if (e.promotion() != null && e.promotion() == p.number()) {
          rows.add(
              Report.row(
                  String.valueOf(e.sequence()),
                  Report.time(e.at()),
                  e.actor(),
                  e.event(),
                  e.text()));
        }
      }
      from = part.next();
    } while (from != 0 && !before);
    java.util.Collections.reverse(rows);
    out.table("History", "Nothing.", List.of("entry", "when", "who", "what", "text"), rows);
  }
}
