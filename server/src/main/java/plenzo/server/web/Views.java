package plenzo.server.web;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.api.Promotions.ApprovalView;
import plenzo.api.Promotions.AttributeChange;
import plenzo.api.Promotions.BaseView;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.FindingView;
import plenzo.api.Promotions.GateView;
import plenzo.api.Promotions.GivesView;
import plenzo.api.Promotions.InForceView;
import plenzo.api.Promotions.LockView;
import plenzo.api.Promotions.LockedView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Promotions.PartChange;
import plenzo.api.Promotions.PlanView;
import plenzo.api.Promotions.StepView;
import plenzo.api.Promotions.ValueView;
import plenzo.api.Promotions.WayView;
import plenzo.api.Promotions.WordRun;
import plenzo.api.Promotions.WordsView;
import plenzo.api.Runs.AnswerView;
import plenzo.api.Runs.BackupView;
import plenzo.api.Runs.NextView;
import plenzo.api.Runs.RowsView;
import plenzo.api.Runs.RunGoal;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunTimes;
import plenzo.api.Runs.RunView;
import plenzo.api.Runs.SpanView;
import plenzo.api.Stages.ConnectionView;
import plenzo.api.Stages.DoorsView;
import plenzo.api.Stages.ProbeView;
import plenzo.api.Stages.SeverityView;
import plenzo.api.Stages.SiteView;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.TargetView;
import plenzo.api.Stages.TestView;
import plenzo.api.Stages.WindowView;
import plenzo.api.Standings.LeftView;
import plenzo.api.Versions.ConversionView;
import plenzo.api.Versions.DraftChecked;
import plenzo.api.Versions.DraftFinding;
import plenzo.api.Versions.DraftPick;
import plenzo.api.Versions.DraftRemovals;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DraftWriting;
import plenzo.api.Versions.LikelyRenameView;
import plenzo.core.calendar.Window;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.comparison.WordMarks;
import plenzo.core.gate.GateReport;
import plenzo.core.impact.Finding;
import plenzo.core.locking.Locked;
import plenzo.core.may.May;
import plenzo.core.may.RunMay;
import plenzo.core.plan.Plan;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Judged;
import plenzo.core.promotion.DraftedNotes;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.run.NextStep;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.run.Spans;
import plenzo.core.stage.Connection;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.stage.Weight;
import plenzo.core.target.Doors;
import plenzo.core.target.TargetId;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.core.words.Words;
import plenzo.engine.running.Runs;
import plenzo.server.security.Shown;

/** Domain values as the API shows them. */
final class Views {
  private Views() {}

  static CountsView counts(Counts c) {
    return new CountsView(c.added(), c.changed(), c.removed(), c.conflict(), c.kept(), c.same());
  }

  static String lower(Enum<?> value) {
    return value.name().toLowerCase(Locale.ROOT);
  }

  static StageView stage(Stage s) {
    List<SiteView> sites =
        s.sites().stream()
            .map(
                x ->
                    new SiteView(
                        x.key(),
                        x.targets().stream()
                            .map(
                                t ->
                                    new TargetView(
                                        t.requireId().text(),
                                        t.key(),
                                        t.sort(),
                                        t.schemas(),
                                        t.looking(),
                                        t.changing(),
                                        t.scratch(),
                                        t.doors().any()
                                            ? new DoorsView(t.doors().names(), t.doors().end())
                                            : null))
                            .toList()))
            .toList();
    return new StageView(
        s.key(),
        s.name(),
        lower(s.role()),
        s.position(),
        s.zone(),
        s.driftCloses(),
        sites,
        s.revision(),
        s.weights().stream()
            .map(
                w ->
                    new SeverityView(
                        w.rule(), w.bound().code(), w.severity().code(), Shown.plain(w.reason())))
            .toList(),
        s.windows().stream()
            .map(w -> new WindowView(w.dayCodes(), w.from().toString(), w.until().toString()))
            .toList());
  }

  static Stage.Site site(SiteView v) {
    return new Stage.Site(
        v.key(),
        v.targets().stream()
            .map(
                t ->
                    new Stage.Target(
                        t.id() == null ? null : new TargetId(t.id()),
                        t.key(),
                        t.sort(),
                        t.schemas(),
                        t.looking(),
                        t.changing(),
                        t.scratch(),
                        doors(t.doors())))
            .toList());
  }

  private static Doors doors(@Nullable DoorsView v) {
    return v == null ? Doors.NONE : new Doors(v.names(), v.end());
  }

  /**
   * @param now the stage, whose severities and windows stay where none are sent; null of a new one
   */
  static Stage stage(StageView v, @Nullable Stage now) {
    List<Stage.Site> sites = v.sites().stream().map(Views::site).toList();
    return new Stage(
        v.key(),
        v.name(),
        Stage.Role.of(v.role()),
        v.position(),
        v.zone(),
        v.driftCloses(),
        sites,
        v.revision(),
        v.severities() != null
            ? v.severities().stream().map(Views::weight).toList()
            : now == null ? List.of() : now.weights(),
        v.windows() != null
            ? v.windows().stream().map(w -> Window.of(w.days(), w.from(), w.until())).toList()
            : now == null ? List.of() : now.windows());
  }

  private static Weight weight(SeverityView v) {
    return new Weight(
        v.rule(),
        Weight.Bound.of(v.bound()),
        Finding.Severity.of(v.severity()),
        v.reason() == null ? "" : v.reason());
  }

  static ConnectionView connection(Connection c) {
    Connection.Test t = c.test();
    TestView test =
        t == null
            ? null
            : new TestView(
                t.at(),
                t.good(),
                t.probes().stream()
                    .map(p -> new ProbeView(p.name(), p.good(), Shown.plain(p.found()), p.advice()))
                    .toList());
    return new ConnectionView(
        c.stage(),
        c.name(),
        c.sort(),
        c.host(),
        c.port(),
        c.database(),
        c.path(),
        c.account(),
        c.tls(),
        c.options(),
        c.lentTo(),
        c.leadsTo(),
        c.hasSecret(),
        c.secretSetAt(),
        c.secretSetBy(),
        test,
        c.revision());
  }

  /**
   * @param notTaken what of the act before could not be taken
   */
  static DraftView draft(Draft d, SemVer proposed, List<String> notTaken) {
    List<DraftPick> picks =
        d.picks().stream()
            .map(
                p ->
                    new DraftPick(
                        p.key().toString(),
                        p.stage()
                            + "/"
                            + (p.stage().equals("git") ? p.site().substring(0, 12) : p.site()),
                        p.reason(),
                        p.rows(),
                        p.changes(),
                        p.seen() != null))
            .toList();
    return new DraftView(
        d.id(),
        d.application(),
        d.from().text(),
        lower(d.state()),
        picks,
        new DraftRemovals(texts(d.removals()), texts(d.gone())),
        new DraftChecked(
            d.checkedAt(),
            d.findings().stream()
                .map(
                    f ->
                        new DraftFinding(
                            f.rule(),
                            lower(f.severity()),
                            Shown.plain(f.place()),
                            Shown.plain(f.sentence()),
                            f.advice()))
                .toList(),
            d.renames().stream()
                .map(
                    r ->
                        new LikelyRenameView(
                            r.component().toString(), r.was(), r.is(), r.denied(), r.isOne()))
                .toList(),
            texts(d.problems()),
            texts(d.leftBehind()),
            texts(d.coverage()),
            d.cycles()),
        new DraftWriting(
            texts(d.order()),
            texts(d.moved()),
            d.conversions().stream()
                .map(
                    c ->
                        new ConversionView(
                            c.component().toString(),
                            Shown.plain(c.column()),
                            Shown.plain(c.expression()),
                            c.back()))
                .toList()),
        d.author(),
        d.at(),
        proposed.text(),
        texts(notTaken),
        Shown.plain(DraftedNotes.of(d)),
        d.revision());
  }

  static List<String> texts(List<?> items) {
    return items.stream().map(x -> Shown.plain(x.toString())).toList();
  }

  static List<AttributeChange> attributes(List<AttributeDifference> all, Predicate<String> hidden) {
    return all.stream()
        .map(
            a ->
                new AttributeChange(
                    a.name(),
                    show(a.present(), hidden.test(a.name())),
                    show(a.incoming(), hidden.test(a.name())),
                    a.presentAbsent(),
                    a.incomingAbsent(),
                    hidden.test(a.name()) ? null : words(a),
                    base(a.base(), hidden.test(a.name()))))
        .toList();
  }

  private static @Nullable BaseView base(AttributeDifference.@Nullable Side base, boolean hidden) {
    return base == null ? null : new BaseView(show(base.value(), hidden), base.absent());
  }

  /** A row as it would be with what either side moved; null when there is no such. */
  static @Nullable List<ValueView> both(
      RowDifference row, List<AttributeDifference> differing, Predicate<String> hidden) {
    return row.difference() != Difference.CONFLICT
        ? null
        : row.both()
            .map(
                r ->
                    differing.stream()
                        .map(AttributeDifference::name)
                        .filter(name -> r.header().position(name) >= 0)
                        .map(
                            name ->
                                new ValueView(
                                    name,
                                    show(r.get(r.header().position(name)), hidden.test(name))))
                        .toList())
            .orElse(null);
  }

  private static @Nullable WordsView words(AttributeDifference a) {
    return a.present() == null || a.incoming() == null
        ? null
        : WordMarks.between(Shown.plain(a.present()), Shown.plain(a.incoming()))
            .map(w -> new WordsView(runs(w.present()), runs(w.incoming())))
            .orElse(null);
  }

  private static List<WordRun> runs(List<WordMarks.Run> runs) {
    return runs.stream().map(r -> new WordRun(r.text(), r.differs())).toList();
  }

  private static @Nullable String show(@Nullable String value, boolean hidden) {
    return value == null ? null : hidden ? "…" : Shown.plain(value);
  }

  static List<ComponentChange> components(List<Promotion.ComponentResult> all) {
    List<ComponentChange> out = new ArrayList<>();
    for (int n = 0; n < all.size(); n++) {
      Promotion.ComponentResult c = all.get(n);
      List<PartChange> parts =
          c.parts().stream()
              .map(
                  x ->
                      new PartChange(
                          x.path(),
                          x.difference().code(),
                          attributes(x.attributes(), name -> false),
                          x.both() != null))
              .toList();
      out.add(
          new ComponentChange(
              n, c.key().toString(), c.difference().code(), counts(c.counts()), parts));
    }
    return out;
  }

  /** Places of rows without their keys, for who may not see values. */
  static List<String> places(List<String> all, VisibleValues sight) {
    return texts(
        all.stream()
            .map(at -> sight.guards(at) ? at.replaceFirst("#row/.*", "#row/…") : at)
            .distinct()
            .toList());
  }

  /** What was left for a time and still is. */
  static List<LeftView> left(SiteRecord r, Instant now, VisibleValues sight) {
    return r.left().stream()
        .filter(x -> x.holds(now))
        .map(
            x ->
                new LeftView(
                    places(List.of(x.place()), sight).get(0),
                    Shown.plain(x.reason()),
                    x.by(),
                    x.at(),
                    x.until().toString()))
        .toList();
  }

  static FindingView finding(Finding f, VisibleValues sight) {
    Finding.Acceptance a = f.accepted();
    return new FindingView(
        f.id(),
        f.rule(),
        lower(f.severity()),
        f.place(),
        Shown.plain(f.sentence()),
        f.count(),
        f.ceiling(),
        f.advice(),
        sight.guards(f.place()) ? List.of() : texts(f.examples()),
        sight.values() || f.query() == null || !f.query().contains("ARRAY[") ? f.query() : null,
        a == null ? null : a.by(),
        a == null ? null : a.reason(),
        a == null ? null : a.until().toString(),
        f.built() == null ? null : f.built().code());
  }

  static @Nullable PlanView plan(@Nullable Plan p) {
    if (p == null) {
      return null;
    }
    return new PlanView(
        p.fingerprint().shown(),
        p.fingerprint().digest().hex(),
        p.steps().stream()
            .map(
                s ->
                    new StepView(
                        s.number(),
                        lower(s.act()),
                        s.name(),
                        s.target(),
                        Shown.plain(s.what()),
                        s.undo(),
                        ManualShown.asked(s.manual())))
            .toList(),
        p.noReturn(),
        p.statements(),
        p.waysBack().stream()
            .map(w -> new WayView(w.way().code(), w.possible(), w.sentence(), w.ceiling()))
            .toList(),
        p.gates().stream().map(g -> new InForceView(g.code(), g.words())).toList(),
        locked(p.locked()));
  }

  private static LockedView locked(Locked l) {
    return new LockedView(
        l.tables().stream()
            .map(
                t ->
                    new LockView(
                        Shown.plain(t.table()),
                        lower(t.hold()),
                        t.hold().words(),
                        texts(t.because())))
            .toList(),
        l.tables().isEmpty() ? null : l.millis() / 1000.0,
        l.tables().isEmpty() ? "" : Words.about(l.millis()),
        l.basis(),
        texts(l.before()),
        texts(l.after()));
  }

  static ApprovalView approval(Promotion.Approval a) {
    return new ApprovalView(
        a.by(),
        a.yes(),
        a.fingerprint(),
        Shown.plain(a.comment()),
        a.at(),
        a.voidBecause(),
        a.of(),
        a.roles());
  }

  static Map<String, String> decisions(Promotion p) {
    Map<String, String> out = new TreeMap<>();
    p.decisions().forEach((k, v) -> out.put(k, v.code()));
    return out;
  }

  static MayView may(May m) {
    return new MayView(m.allowed(), m.why() == null ? null : m.why().code(), m.words(), m.who());
  }

  static List<GateView> gates(GateReport report) {
    return report.open().stream()
        .map(g -> new GateView(g.code(), g.words(), g.mover().code()))
        .toList();
  }

  static BackupView backup(Run run, Run.Backup b) {
    return new BackupView(
        b.name(),
        b.bytes(),
        b.rows(),
        b.tables(),
        b.pieces(),
        b.digest(),
        b.proof(),
        b.at(),
        run.shown(),
        run.site().toString());
  }

  /**
   * @param values whether the reader may see values
   */
  static RunView run(
      Run r,
      Stage stage,
      Promotion p,
      int place,
      Spans spans,
      Runs.UsersOut out,
      boolean values,
      @Nullable NextStep next,
      RunMay may,
      @Nullable String waitsFor,
      Instant now) {
    List<RunStepView> steps =
        r.steps().stream()
            .map(
                s ->
                    new RunStepView(
                        s.number(),
                        s.name(),
                        s.state().code(),
                        s.began(),
                        s.ended(),
                        s.note() == null ? null : Shown.plain(s.note()),
                        seconds(spans.usual(s)),
                        ManualShown.handed(s, may, now)))
            .toList();
    int noReturn = p.plan() == null ? RunStep.State.values().length : p.plan().noReturn();
    return new RunView(
        r.shown(),
        "P-" + r.promotion(),
        new RunGoal(
            r.application(),
            r.version(),
            r.before(),
            r.site().toString(),
            stage.name(),
            stage.production(),
            p.purpose().code(),
            Shown.plain(p.notes()),
            new plenzo.core.digest.Fingerprint(new plenzo.core.digest.Digest(r.fingerprint()))
                .shown()),
        r.state().code(),
        r.state().ended(),
        r.startedBy(),
        new RunTimes(
            r.queuedAt(),
            r.startedAt(),
            r.endedAt(),
            r.noReturnAt(),
            seconds(spans.usualWhole()),
            span(spans.whole()),
            r.usersOutSince().orElse(null),
            out.until(),
            span(spans.usersOut()),
            out.now()),
        may(may.may(RunMay.Deed.ABORT)),
        steps,
        noReturn,
        new RowsView(r.rows().done(), r.rows().toDo()),
        r.sentence() == null ? null : Shown.plain(r.sentence()),
        r.backup() == null ? null : backup(r, r.backup()),
        values ? answers(r.answers()) : null,
        place,
        next == null ? null : new NextView(next.code().code(), next.words()),
        ManualShown.steering(r, may),
        waitsFor);
  }

  private static List<AnswerView> answers(Run.Answers all) {
    Set<String> questions = new TreeSet<>(all.before().keySet());
    questions.addAll(all.after().keySet());
    return questions.stream()
        .map(
            q -> {
              Judged judged = all.judged().get(q);
              return new AnswerView(
                  q,
                  answer(all.before().get(q)),
                  answer(all.after().get(q)),
                  judged == null ? null : judged.outcome().code(),
                  judged == null ? null : Shown.plain(judged.words()));
            })
        .toList();
  }

  private static @Nullable String answer(@Nullable Answer a) {
    return a == null || !a.given() ? null : Shown.plain(a.text());
  }

  static long count(Promotion p, Finding.Severity severity) {
    return p.findings().stream().filter(f -> f.severity() == severity).count();
  }

  /** Whose yes counts. */
  static List<String> approvedBy(Promotion p) {
    return p.approvals().stream()
        .filter(Promotion.Approval::counts)
        .map(Promotion.Approval::words)
        .distinct()
        .toList();
  }

  /** In seconds; null when nothing is known. */
  static @Nullable SpanView span(Spans.@Nullable Span span) {
    return span == null
        ? null
        : new SpanView(
            span.least().toMillis() / 1000.0, span.most().toMillis() / 1000.0, span.runs());
  }

  static @Nullable Double seconds(@Nullable Duration d) {
    return d == null ? null : d.toMillis() / 1000.0;
  }

  static List<GivesView> gives(List<Promotion.Gives> all) {
    return all.stream()
        .map(
            g ->
                new GivesView(
                    g.input(),
                    g.from(),
                    g.shown() == null ? null : Shown.plain(g.shown()),
                    g.setAt(),
                    g.anew()))
        .toList();
  }
}
