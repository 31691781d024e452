package plenzo.engine.promoting;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Freeze;
import plenzo.core.carrying.CarryOver;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Fingerprint;
import plenzo.core.drift.PutBack;
import plenzo.core.gate.GateReport;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memos;
import plenzo.core.keeping.Slice;
import plenzo.core.manual.ManualStep;
import plenzo.core.may.CaseMay;
import plenzo.core.may.Duties;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionHead;
import plenzo.core.version.Written;
import plenzo.core.way.Obstacle;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Retiring;
import plenzo.engine.underway.Work;

/** The case files of promotions: prepared, compared, decided on and agreed. */
public final class Promotions {
  private final Tools tools;
  private BiFunction<Promotion, CaseWork.Outcome, List<Finding>> trial = (p, out) -> List.of();
  private final CaseWork work;
  private final Memos<List<Object>, Slice<PromotionHead>> lists = new Memos<>(50);

  public Promotions(Tools tools, CaseWork work) {
    this.tools = tools;
    this.work = work;
  }

  /** Those that the person may see, newest first. */
  public Slice<PromotionHead> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK);
    return lists.get(
        List.of(filter, sight),
        tools.keeper().stamp(),
        () -> tools.keeper().read(kept -> kept.promotions().heads(filter, sight)));
  }

  public Promotion get(Person by, long number) {
    return find(number)
        .filter(p -> by.may(Right.LOOK, p.site().stage(), p.application()))
        .orElseThrow(() -> Problem.notFound("promotion", "P-" + number));
  }

  /** What becomes of the values of a promotion's tables, as it was last compared. */
  public CarryOver carriedOver(Person by, long number) {
    return work.carried().kept(get(by, number));
  }

  private Optional<Promotion> find(long number) {
    return tools.keeper().read(kept -> kept.promotions().find(String.valueOf(number)));
  }

  /** Opens a promotion of a version to a site by the ordinary path. */
  public Promotion prepare(
      Person by, String application, SemVer number, SiteKey site, String notes) {
    return prepare(by, application, number, site, null, notes);
  }

  /**
   * Opens a promotion of a version to a site; it is compared in the background.
   *
   * @param path key of the path by which it goes, null for the first of the application's that goes
   *     there
   */
  public Promotion prepare(
      Person by,
      String application,
      SemVer number,
      SiteKey site,
      @Nullable String path,
      String notes) {
    VersionHead version = promotable(by, application, number, site, path);
    String asked = work.paths().requireLeg(application, site, path).key();
    Promotion p =
        tools
            .keeper()
            .write(kept -> open(kept, by, version, site, asked, notes, /* release= */ null));
    compareSoon(p.number());
    return p;
  }

  /**
   * Opens a plan that makes a site as it is recorded again (decision D22).
   *
   * @throws Problem when nothing is recorded there, or a place is of no component of the version
   */
  public Promotion putBack(
      Person by, String application, SiteKey site, PutBack what, String notes) {
    SemVer present = recorded(by, application, site);
    Version version = work.versions().version(application, present);
    for (String place : what.places()) {
      String component = place.contains("#") ? place.substring(0, place.indexOf('#')) : place;
      if (version.entries().stream().noneMatch(e -> e.key().toString().equals(component))) {
        throw Problem.invalid(
            "UNKNOWN_COMPONENT",
            present + " of " + application + " has no component \"" + component + "\" to put back.",
            "/only");
      }
    }
    Promotion.Goal goal = Promotion.Goal.puttingBack(application, present, site, what);
    Promotion p =
        tools
            .keeper()
            .write(
                kept ->
                    opened(
                        kept,
                        by,
                        goal,
                        notes,
                        "put-back prepared",
                        what.places().isEmpty() ? "" : String.join(", ", what.places())));
    compareSoon(p.number());
    return p;
  }

  /** Opens a plan that gives a site the values of its stage, and moves nothing else. */
  public Promotion giveValues(Person by, String application, SiteKey site, String notes) {
    SemVer present = recorded(by, application, site);
    Promotion.Goal goal = Promotion.Goal.values(application, present, site);
    Promotion p =
        tools.keeper().write(kept -> opened(kept, by, goal, notes, "values prepared", ""));
    compareSoon(p.number());
    return p;
  }

  private SemVer recorded(Person by, String application, SiteKey site) {
    Rights.require(by, Right.PREPARE, site.stage(), application);
    work.paths().requireLeg(application, site, null);
    SemVer present = work.record(application, site).present();
    if (present == null) {
      throw Problem.stopped(
          "NOT_DECLARED",
          application + " is not recorded at " + site + ".",
          "plenzo app adopt " + application + " --site " + site);
    }
    return present;
  }

  /**
   * The version, if the person may promote it to the site.
   *
   * @param path key of the path by which it goes, null for the first that goes there
   * @throws Problem when it was withdrawn, the site is not on its path, the right is missing, or
   *     whoever sealed it may not prepare it there
   */
  public VersionHead promotable(
      Person by, String application, SemVer number, SiteKey site, @Nullable String path) {
    Rights.require(by, Right.PREPARE, site.stage(), application);
    VersionHead version = work.versions().head(application, number);
    if (version.withdrawn()) {
      throw Problem.stopped(
          "WITHDRAWN",
          version.ref() + " was withdrawn and can no longer be promoted.",
          "Promote a later version");
    }
    Path way = work.paths().requireLeg(application, site, path);
    boolean apart =
        way.leg(site.stage())
            .filter(l -> l.apartFrom(Apart.Duty.PREPARER).contains(Apart.Duty.AUTHOR))
            .isPresent();
    if (apart && Written.madeBy(version, tools.everybody()).logins().contains(by.login())) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "OWN_VERSION",
          "You sealed "
              + number
              + " or wrote what is in it, so somebody else prepares it: on the path "
              + way.key()
              + " to "
              + site.stage()
              + " author and preparer are two people.",
          May.ask(by, Right.PREPARE, site.stage(), application, tools.everybody()),
          null);
    }
    return version;
  }

  /** Opens a promotion within a transaction; whoever calls it lets it be compared afterwards. */
  public Promotion open(
      Kept kept,
      Person by,
      VersionHead version,
      SiteKey site,
      @Nullable String path,
      String notes,
      @Nullable String release) {
    Promotion.Goal goal =
        Promotion.Goal.of(version.application(), version.number(), site)
            .inRelease(release)
            .by(path);
    return opened(
        kept,
        by,
        goal,
        notes.isBlank() ? Notes.carried(kept, goal) : notes,
        "promotion prepared",
        version.title());
  }

  /**
   * @param text what the history says of it where there are no notes
   */
  private Promotion opened(
      Kept kept, Person by, Promotion.Goal goal, String notes, String event, String text) {
    Retiring.requireInUse(kept, goal.application());
    long next = kept.next("promotion");
    Promotion made =
        Promotion.opened(next, goal, new Promotion.Prepared(by.login(), tools.now(), notes));
    kept.promotions().insert(made);
    kept.note(event(by, event, made, notes.isBlank() ? text : notes), tools.now());
    return kept.promotions().find(String.valueOf(next)).orElseThrow();
  }

  static Event event(Person by, String what, Promotion p, String text) {
    return event(by.login(), what, p, text);
  }

  static Event event(String actor, String what, Promotion p, String text) {
    return new Event(
        actor,
        what,
        p.application(),
        p.site().stage(),
        p.site().site(),
        p.version().text(),
        p.number(),
        null,
        text);
  }

  /** Compares again, in the background; the state is preparing until it is done. */
  public Promotion compareAgain(Person by, long number) {
    Promotion p = get(by, number);
    Rights.require(by, Right.PREPARE, p.site().stage(), p.application());
    if (!p.state().open() || p.state() == PromotionState.RUNNING) {
      throw Problem.stopped(
          "NOT_OPEN", p.shown() + " is " + p.state().code() + ".", "Prepare another promotion");
    }
    if (p.state() == PromotionState.PREPARING) {
      return p;
    }
    Promotion begun = save(p.change().state(PromotionState.PREPARING).done());
    tools.background().execute(() -> compareQuietly(number));
    return begun;
  }

  /** Compares in the background; the promotion is preparing already. */
  public void compareSoon(long number) {
    tools.background().execute(() -> compareQuietly(number));
  }

  private void compareQuietly(long number) {
    try {
      compareNow(number);
    } catch (RuntimeException e) {
      String why =
          e instanceof Problem p
              ? p.withNext()
              : e instanceof TargetFailed
                  ? String.valueOf(e.getMessage())
                  : "The comparison failed: " + e;
      find(number)
          .filter(p -> p.state() == PromotionState.PREPARING)
          .ifPresent(p -> save(p.change().state(PromotionState.FAILED).sentence(why).done()));
      if (!(e instanceof Problem || e instanceof TargetFailed)) {
        System.getLogger(Promotions.class.getName())
            .log(System.Logger.Level.ERROR, "Comparing P-" + number + " failed", e);
      }
    }
  }

  /**
   * Compares, checks and plans in this thread; approvals of another plan fall, and what moved is
   * said.
   */
  public Promotion compareNow(long number) {
    Promotion p = find(number).orElseThrow();
    return tools
        .underway()
        .during(
            Work.Act.COMPARE,
            p.preparedBy(),
            "promotion/" + p.shown(),
            p.application(),
            () -> {
              return keep(p, tried(p, work.work(p)));
            });
  }

  /** What was worked out, with what a trial of it found. */
  public CaseWork.Outcome tried(Promotion p, CaseWork.Outcome out) {
    return out.finding(trial.apply(p, out));
  }

  /**
   * Keeps what was worked out of one that was just opened: its tables are not read once more.
   *
   * @param out tried already
   */
  public Promotion compared(long number, CaseWork.Outcome out) {
    return keep(find(number).orElseThrow(), out);
  }

  /**
   * @param p as it was when it was worked out: what somebody decided meanwhile is not written over
   */
  private Promotion keep(Promotion p, CaseWork.Outcome tried) {
    return save(settle(work.apply(p, tried)));
  }

  /** What else is found of a case whenever its plan is made, beside what its own rules find. */
  public void trying(BiFunction<Promotion, CaseWork.Outcome, List<Finding>> with) {
    trial = with;
  }

  /** After a restart: comparisons that were under way begin again. */
  public void resume() {
    for (Promotion p :
        tools.keeper().read(kept -> kept.promotions().list(Kept.Filter.state("preparing")))) {
      tools.background().execute(() -> compareQuietly(p.number()));
    }
  }

  /**
   * When a run has ended, other open promotions at the same site are compared again (decision D6);
   * those whose version is now there or older than its line are overtaken.
   */
  public void compareOthers(Promotion ran) {
    for (Promotion p :
        tools
            .keeper()
            .read(
                kept ->
                    kept.promotions()
                        .list(
                            Kept.Filter.at(ran.application(), ran.site())
                                .in(PromotionState.standing())))) {
      if (p.number() != ran.number() && p.comparison() != null) {
        try {
          String overtaken = work.overtaken(p, ran);
          if (!overtaken.isEmpty()) {
            overtake(p, ran, overtaken);
            continue;
          }
          Promotion begun = save(p.change().state(PromotionState.PREPARING).done());
          tools.background().execute(() -> compareQuietly(begun.number()));
        } catch (Problem e) {
          System.getLogger(Promotions.class.getName())
              .log(
                  System.Logger.Level.INFO,
                  "P-" + p.number() + " is being worked on and was not compared again");
        }
      }
    }
  }

  private void overtake(Promotion p, Promotion ran, String because) {
    tools
        .keeper()
        .write(
            kept -> {
              update(kept, p.change().state(PromotionState.OVERTAKEN).sentence(because).done());
              return kept.note(event("plenzo", "overtaken", p, because), tools.now());
            });
    work.comparer().files().remove(p.comparison());
  }

  /** Decides a conflict; part empty for all conflicts of the component. */
  public Promotion decide(Person by, long number, Map<String, Decision> decided) {
    Promotion p = able(by, number, CaseMay.Deed.DECIDE);
    for (String at : decided.keySet()) {
      if (p.components().stream()
          .noneMatch(c -> at.equals(c.key().toString()) || at.startsWith(c.key() + "#"))) {
        throw Problem.invalid(
            "UNKNOWN_COMPONENT",
            p.shown() + " has no component \"" + at + "\" to decide about.",
            "/decisions");
      }
    }
    Map<String, Decision> all = new TreeMap<>(p.decisions());
    // a word about all that is used takes the place of earlier ones about its rows
    decided.keySet().stream()
        .filter(at -> at.endsWith(Obstacle.IN_USE))
        .map(at -> at.substring(0, at.length() - Obstacle.IN_USE.length()))
        .forEach(
            records ->
                all.keySet()
                    .removeIf(
                        at ->
                            at.startsWith(records + "#row/")
                                || at.equals(records + Obstacle.ALL_THAT_GO)));
    all.putAll(decided);
    record(
        p.change().state(PromotionState.PREPARING).decisions(all).done(),
        event(
            by,
            "conflict decided",
            p,
            decided.entrySet().stream()
                .map(e -> e.getKey() + ": " + e.getValue().code())
                .sorted()
                .reduce((a, b) -> a + ", " + b)
                .orElse("")));
    compareQuietly(number);
    return get(by, number);
  }

  /** Says which components the run switches on; others keep their state, new ones arrive off. */
  public Promotion activate(Person by, long number, Set<ComponentKey> asked) {
    Promotion p = able(by, number, CaseMay.Deed.DECIDE);
    for (ComponentKey key : asked) {
      if (!key.kind().definition() || p.components().stream().noneMatch(c -> c.key().equals(key))) {
        throw Problem.invalid(
            "NO_SUCH_COMPONENT",
            p.shown() + " has no rule, form or integration \"" + key + "\" to switch on.",
            "/components");
      }
    }
    record(
        p.change().state(PromotionState.PREPARING).activate(asked).done(),
        event(
            by,
            "activation chosen",
            p,
            asked.isEmpty()
                ? "nothing is switched on"
                : String.join(", ", asked.stream().sorted().map(ComponentKey::toString).toList())));
    compareQuietly(number);
    return get(by, number);
  }

  /** Says what is done by hand in this case alone; what was said before is replaced. */
  public Promotion byHand(Person by, long number, List<ManualStep> asked) {
    Promotion p = able(by, number, CaseMay.Deed.DECIDE);
    record(
        p.change().state(PromotionState.PREPARING).manual(asked).done(),
        event(
            by,
            "work by hand chosen",
            p,
            asked.isEmpty()
                ? "none"
                : asked.stream()
                    .map(ManualStep::title)
                    .collect(java.util.stream.Collectors.joining("; "))));
    compareQuietly(number);
    return get(by, number);
  }

  /** Accepts a risk with a reason and an end date; blockers cannot be accepted. */
  public Promotion acceptRisk(
      Person by, long number, String finding, String reason, LocalDate until) {
    Promotion p = able(by, number, CaseMay.Deed.ACCEPT_RISK);
    Finding f =
        p.findings().stream()
            .filter(x -> x.id().equals(finding) || x.rule().equals(finding))
            .findFirst()
            .orElseThrow(() -> Problem.notFound("finding", finding));
    if (f.severity() != Finding.Severity.RISK) {
      throw Problem.stopped(
          "NOT_A_RISK",
          "A "
              + f.severity().name().toLowerCase(java.util.Locale.ROOT)
              + " cannot be accepted; it can only be put right.",
          f.advice());
    }
    if (reason.isBlank() || !until.isAfter(LocalDate.ofInstant(tools.now(), ZoneOffset.UTC))) {
      throw Problem.invalid(
          "REASON",
          "A risk is accepted with a reason and until a day that is yet to come.",
          "/until");
    }
    Map<String, Finding.Acceptance> all = new TreeMap<>(p.acceptances());
    all.put(f.id(), new Finding.Acceptance(by.login(), reason, until));
    record(
        p.change().acceptances(all).done(),
        event(by, "risk accepted", p, f.rule() + " until " + until + ": " + reason));
    return compareNow(number);
  }

  /** Saves a case file and says so in the history, both or neither. */
  private Promotion record(Promotion p, Event event) {
    return tools
        .keeper()
        .write(
            kept -> {
              update(kept, p);
              kept.note(event, tools.now());
              return kept.promotions().find(String.valueOf(p.number())).orElseThrow();
            });
  }

  /**
   * The promotion, if the person may do that with it now.
   *
   * @throws Problem with the reason, and who can
   */
  Promotion able(Person by, long number, CaseMay.Deed deed) {
    Promotion p = get(by, number);
    require(p, work.gates().may(by, p).may(deed));
    return p;
  }

  /**
   * @throws Problem when it may not be done
   */
  public static void require(Promotion p, May may) {
    May.Why why = may.why();
    if (why == null) {
      return;
    }
    String look = "plenzo promotion show " + p.shown();
    throw switch (why) {
      case RIGHT, OWN, ROLE -> may.refused();
      case SAID_ALREADY -> Problem.stopped("APPROVED_ALREADY", may.words(), look);
      case NOTHING_SAID -> Problem.stopped("NOTHING_SAID", may.words(), look);
      case IN_RELEASE ->
          Problem.stopped(
              "IN_RELEASE",
              may.words(),
              p.waves() == null
                  ? "plenzo release show " + p.release()
                  : "plenzo wave show " + p.waves());
      case NOT_OFFERED ->
          Problem.stopped(
              "NOT_OFFERED", may.words(), "plenzo path show " + (p.path() == null ? "" : p.path()));
      case GATES -> Problem.stopped("GATE_CLOSED", may.words(), look);
      case STATE ->
          p.state() == PromotionState.RUNNING
              ? Problem.changed(
                  "RUNNING_ALREADY",
                  p.shown() + " runs already.",
                  "plenzo run list --promotion " + p.shown())
              : Problem.stopped(
                  "NOT_OPEN",
                  may.words(),
                  p.state() == PromotionState.FAILED
                      ? "plenzo promotion compare " + p.shown()
                      : look);
      case NO_RETURN -> Problem.stopped("NO_RETURN", may.words(), look);
    };
  }

  /** Says yes or no to exactly the plan with this fingerprint. */
  public Promotion approve(
      Person by, long number, boolean yes, String fingerprint, String comment) {
    Promotion p = able(by, number, yes ? CaseMay.Deed.APPROVE : CaseMay.Deed.REJECT);
    return said(by, p, yes, fingerprint, comment);
  }

  /** The same for a member of a release, on the release's own approval. */
  public Promotion approveMember(
      Person by, long number, boolean yes, String fingerprint, String comment) {
    Promotion p = get(by, number);
    May may = work.gates().may(by, p).may(yes ? CaseMay.Deed.APPROVE : CaseMay.Deed.REJECT);
    if (may.why() != May.Why.IN_RELEASE) {
      require(p, may);
    }
    return said(by, p, yes, fingerprint, comment);
  }

  private Promotion said(Person by, Promotion p, boolean yes, String fingerprint, String comment) {
    long number = p.number();
    Plan plan = p.requirePlan();
    if (!plan.fingerprint().matches(fingerprint)) {
      throw Problem.changed(
          "FINGERPRINT",
          "The plan of "
              + p.shown()
              + " is now "
              + plan.fingerprint().shown()
              + ", not "
              + Fingerprint.given(fingerprint)
              + ".",
          "Read what changed: plenzo promotion show " + p.shown());
    }
    if (!yes && comment.isBlank()) {
      throw Problem.invalid("REASON", "A no needs a reason.", "/comment");
    }
    String of = work.gates().inFor(by, p);
    Promotion.Approval word =
        new Promotion.Approval(
            by.login(),
            yes,
            plan.fingerprint().digest().hex(),
            comment,
            tools.now(),
            null,
            of,
            List.copyOf(rolesThen(by, of, p)));
    return tools
        .keeper()
        .write(
            kept -> {
              Promotion next = settle(p.said(word));
              update(kept, next);
              if (next.state() == PromotionState.DONE) {
                Emergencies.settle(kept, tools, next, work.gates().report(next), by.login());
              }
              kept.note(
                  event(
                      by,
                      yes ? "approved" : "rejected",
                      p,
                      "Plan "
                          + plan.fingerprint().shown()
                          + (word.of() == null ? "" : ", for " + word.of())
                          + (comment.isBlank() ? "" : ": " + comment)),
                  tools.now());
              return kept.promotions().find(String.valueOf(number)).orElseThrow();
            });
  }

  /** Keys of the roles that are held at the place of the case, by whom the word counts for. */
  private static Set<String> rolesThen(Person by, @Nullable String of, Promotion p) {
    String stage = p.site().stage();
    return of == null ? by.rolesAt(stage, p.application()) : by.rolesAt(of, stage, p.application());
  }

  /** Takes a person's own word back, until the run starts. */
  public Promotion takeBack(Person by, long number, String reason) {
    Promotion p = able(by, number, CaseMay.Deed.TAKE_BACK);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Taking your word back needs a reason.", "/reason");
    }
    List<Promotion.Approval> all =
        p.approvals().stream()
            .map(
                a ->
                    a.by().equals(by.login()) && a.voidBecause() == null
                        ? a.fallen("taken back: " + reason)
                        : a)
            .toList();
    return tools
        .keeper()
        .write(
            kept -> {
              update(kept, settle(p.change().approvals(all).done()));
              kept.note(event(by, "approval taken back", p, reason), tools.now());
              return kept.promotions().find(String.valueOf(number)).orElseThrow();
            });
  }

  /** Closes a promotion for good. */
  public Promotion withdraw(Person by, long number, String reason) {
    Promotion p = able(by, number, CaseMay.Deed.WITHDRAW);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Withdrawing needs a reason.", "/reason");
    }
    return withdrawn(by.login(), p, reason);
  }

  /** The same for one of several that go together, on what became of the whole. */
  public void withdrawMember(String actor, Promotion p, String reason) {
    if (p.state().leadsTo(PromotionState.WITHDRAWN)) {
      withdrawn(actor, p, reason);
    }
  }

  private Promotion withdrawn(String actor, Promotion p, String reason) {
    return tools
        .keeper()
        .write(
            kept -> {
              update(kept, p.change().state(PromotionState.WITHDRAWN).sentence(reason).done());
              kept.note(event(actor, "promotion withdrawn", p, reason), tools.now());
              return kept.promotions().find(String.valueOf(p.number())).orElseThrow();
            });
  }

  /** What is still open; what the person may do with it is {@link #may}. */
  public GateReport gates(Promotion p) {
    return work.gates().report(p);
  }

  /** What the person may do with it now. */
  public CaseMay may(Person by, Promotion p) {
    return work.gates().may(by, p);
  }

  /** Who may approve it. */
  public List<String> approvers(Promotion p) {
    return work.gates().approvers(p);
  }

  /** Ready or agreed, by the gates as they are now; not saved. */
  public Promotion settle(Promotion p) {
    if (p.state() != PromotionState.READY && p.state() != PromotionState.AGREED) {
      return p;
    }
    Promotion valid = p.change().approvals(stillValid(p)).done();
    return valid
        .change()
        .state(work.gates().report(valid).passed() ? PromotionState.AGREED : PromotionState.READY)
        .done();
  }

  /** A yes that is older than the leg lets it be falls, so that it can be said anew. */
  private List<Promotion.Approval> stillValid(Promotion p) {
    int days = work.paths().leg(p).approvalDays();
    if (days == 0) {
      return p.approvals();
    }
    Instant oldest = tools.now().minus(Duration.ofDays(days));
    return p.approvals().stream()
        .map(
            a ->
                a.counts() && !a.at().isAfter(oldest)
                    ? a.fallen("it is older than " + Words.count(days, "day"))
                    : a)
        .toList();
  }

  /**
   * Judges the gates again, for example after a verdict; a promotion that is being worked on is
   * left alone.
   */
  public void judgeAgain(UnaryOperator<List<Promotion>> which) {
    List<Promotion> open =
        tools
            .keeper()
            .read(kept -> kept.promotions().list(Kept.Filter.all().in(PromotionState.standing())));
    for (Promotion p : which.apply(open)) {
      try {
        compareSoon(save(p.change().state(PromotionState.PREPARING).done()).number());
      } catch (Problem e) {
        System.getLogger(Promotions.class.getName())
            .log(
                System.Logger.Level.INFO,
                p.shown() + " is being worked on and was not judged again");
      }
    }
  }

  /** Judges those again that go by a path: what it asks is another thing now. */
  public void judgeThoseBy(Path path) {
    judgeAgain(
        all -> all.stream().filter(p -> work.paths().path(p).key().equals(path.key())).toList());
  }

  /** Judges those again that go to a stage: it finds other things bad now. */
  public void judgeThoseTo(Stage stage) {
    judgeAgain(all -> all.stream().filter(p -> p.site().stage().equals(stage.key())).toList());
  }

  Promotion save(Promotion p) {
    return tools
        .keeper()
        .write(
            kept -> {
              update(kept, p);
              return kept.promotions().find(String.valueOf(p.number())).orElseThrow();
            });
  }

  static void update(Kept kept, Promotion p) {
    if (!kept.promotions().update(p)) {
      throw Problem.changed(
          "CHANGED",
          "Somebody else changed " + p.shown() + " meanwhile.",
          "Look again: plenzo promotion show " + p.shown());
    }
  }

  /**
   * Ready or agreed anew where only time moved: a span at the stage before is over, or a yes became
   * too old.
   */
  public void settleByTime() {
    Set<String> byCalendar = stagesWithACalendar();
    if (byCalendar.isEmpty()
        && tools.keeper().read(kept -> kept.paths().all()).stream()
            .flatMap(path -> path.legs().stream())
            .noneMatch(Promotions::waitsForTime)) {
      return;
    }
    for (Promotion p :
        tools
            .keeper()
            .read(
                kept -> kept.promotions().list(Kept.Filter.all().in(PromotionState.standing())))) {
      if (!waitsForTime(work.paths().leg(p)) && !byCalendar.contains(p.site().stage())) {
        continue;
      }
      settleAndSay(p);
    }
  }

  /** Ready or agreed anew by the calendar of a stage. */
  public void settleThoseTo(Stage stage) {
    tools
        .keeper()
        .read(kept -> kept.promotions().list(Kept.Filter.all().in(PromotionState.standing())))
        .stream()
        .filter(p -> p.site().stage().equals(stage.key()))
        .forEach(this::settleAndSay);
  }

  private void settleAndSay(Promotion p) {
    Promotion next = settle(p);
    if (next.state() == p.state() && next.approvals().equals(p.approvals())) {
      return;
    }
    try {
      record(
          next,
          event(
              "plenzo",
              !next.approvals().equals(p.approvals())
                  ? "approvals too old"
                  : next.state() == PromotionState.AGREED ? "gates opened" : "gates closed",
              p,
              work.gates().report(next).words()));
    } catch (Problem e) {
      System.getLogger(Promotions.class.getName())
          .log(System.Logger.Level.INFO, p.shown() + " is being worked on and stays as it was");
    }
  }

  private Set<String> stagesWithACalendar() {
    return tools
        .keeper()
        .read(
            kept ->
                Stream.concat(
                        kept.stages().all().stream()
                            .filter(s -> !s.windows().isEmpty())
                            .map(Stage::key),
                        kept.freezes().all().stream().map(Freeze::stage))
                    .collect(Collectors.toSet()));
  }

  private static boolean waitsForTime(Leg leg) {
    return leg.soakDays() > 0 || leg.approvalDays() > 0;
  }

  /** What its path asks at the destination. */
  public Leg leg(Promotion p) {
    return work.paths().leg(p);
  }

  /** The path by which it goes. */
  public Path path(Promotion p) {
    return work.paths().path(p);
  }

  /** Who did what about it, and what that keeps them from. */
  public Duties duties(Promotion p) {
    return work.gates().duties(p);
  }

  /** How many checks a promotion goes through. */
  public int checks() {
    return work.checks();
  }

  /** The stage that it goes to. */
  public Stage stage(Promotion p) {
    return work.paths().stage(p.site());
  }
}
