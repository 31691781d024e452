package plenzo.engine.rehearsing;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.inventory.Uncarried;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Judged;
import plenzo.core.probe.Probe;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.rehearsal.Rehearsal.Result;
import plenzo.core.run.Run;
import plenzo.core.table.Renaming;
import plenzo.core.target.Changing;
import plenzo.core.target.Delta;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.RunMark;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Fitting;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.comparing.OnlyIncoming;
import plenzo.engine.probing.Probing;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * One rehearsal: what the plan can touch is copied, the plan is carried out there by the same
 * switches as a run's, what came of it is compared with the version, and it is taken back by the
 * backup and compared with the start. The site itself is read and nothing else.
 */
final class Rehearsing {
  /** Runs of a copy: there and back by the backup, there once more and back by the version. */
  private static final long THERE = 1;

  private static final long BACK = 2;
  private static final long THERE_AGAIN = 3;
  private static final long BACK_BY_VERSION = 4;

  private static final String PROVEN =
      "The plan was carried out on a copy and taken back there by the backup";

  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;

  Rehearsing(Tools tools, Targets targets, CaseWork work) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
  }

  /** Where one that goes on is written down. */
  interface Book {
    void change(UnaryOperator<Rehearsal> how);

    /** Throws when it is to stop. */
    void alive();
  }

  /** What came of it. */
  record Outcome(Result result, String sentence) {}

  private static String folder(Rehearsal r) {
    return "rehearsal/" + r.shown();
  }

  /** Why a target is not copied; empty when it is. */
  private String why(Targets.At at) {
    return switch (at.holder()) {
      case HOST -> targets.spaces(at) ? "" : "the host makes no place of its own for it";
      case DIRECTORY -> "";
      case DATABASE ->
          at.target().scratch().isEmpty()
              ? "its database has no account that may make one of its own for it"
              : "";
    };
  }

  private List<Targets.At> switched(Promotion p) {
    Set<Holder> holders =
        p.requirePlan().steps().stream()
            .filter(s -> s.act() == Act.SWITCH)
            .map(Plan.Step::holder)
            .filter(Objects::nonNull)
            .collect(Collectors.toCollection(LinkedHashSet::new));
    return targets.all(p.site()).stream().filter(at -> holders.contains(at.holder())).toList();
  }

  /**
   * @throws Problem when nothing of the plan can be rehearsed
   */
  void require(Promotion p) {
    List<Targets.At> switched = switched(p);
    if (switched.isEmpty()) {
      throw Problem.stopped(
          "NOTHING_TO_REHEARSE",
          "The plan of " + p.shown() + " changes nothing.",
          "plenzo promotion show " + p.shown());
    }
    Map<String, String> whys = new LinkedHashMap<>();
    switched.forEach(at -> whys.put(at.target().key(), why(at)));
    if (!whys.containsValue("")) {
      throw Problem.stopped(
          "NOTHING_TO_REHEARSE",
          "Nothing that "
              + p.shown()
              + " changes can be copied: "
              + whys.entrySet().stream()
                  .map(w -> w.getKey() + ": " + w.getValue())
                  .collect(Collectors.joining("; "))
              + ".",
          "Name an account for scratch places in the set-up of stages");
    }
  }

  /** Takes away what one that was killed has left; what could not be is said. */
  String clear(Rehearsal r) {
    tools.files().remove(folder(r));
    List<String> left = new ArrayList<>();
    for (Targets.At at : targets.all(r.site())) {
      if (at.target().changing().isEmpty()) {
        continue;
      }
      try {
        if (why(at).isEmpty()) {
          Copies.clear(targets, at, r.number());
        }
      } catch (TargetFailed | Problem e) {
        left.add("Its copy beside " + at.shown() + " may be left: " + e.getMessage() + ".");
      }
    }
    return String.join(" ", left);
  }

  Outcome carryOut(Rehearsal r, Promotion p, Book book) {
    Course c = new Course(r, p, book);
    CaseWork.Outcome out =
        c.part("Compare once more", Act.LOOK_AGAIN, () -> work.work(p), c::unmoved);
    try {
      return carryOut(r, p, book, out);
    } finally {
      work.comparer().files().remove(out.compared().id());
    }
  }

  /**
   * The same of what was compared just now.
   *
   * @param out of the promotion; its comparison is left to the caller
   */
  Outcome carryOut(Rehearsal r, Promotion p, Book book, CaseWork.Outcome out) {
    try {
      return new Course(r, p, book).on(out);
    } finally {
      tools.files().remove(folder(r));
    }
  }

  /** One that goes on. */
  private final class Course {
    private final Rehearsal r;
    private final Promotion p;
    private final Book book;
    private final Changing.Watch watch;

    Course(Rehearsal r, Promotion p, Book book) {
      this.r = r;
      this.p = p;
      this.book = book;
      this.watch = Changing.Watch.quiet(book::alive);
    }

    private Problem failed(String why) {
      return Problem.stopped("REHEARSAL", why, "plenzo rehearsal show " + r.shown());
    }

    private <T> T part(
        String name,
        @Nullable Act act,
        Supplier<T> does,
        java.util.function.Function<T, String> note) {
      book.alive();
      book.change(x -> x.begin(name, act, tools.now()));
      tools.underway().now().at(name);
      T made = does.get();
      String said = note.apply(made);
      book.change(x -> x.done(said, tools.now()));
      return made;
    }

    private void part(String name, @Nullable Act act, Supplier<String> does) {
      part(name, act, does, said -> said);
    }

    private String unmoved(CaseWork.Outcome out) {
      if (!r.isOf(out.plan())) {
        work.comparer().files().remove(out.compared().id());
        throw failed(
            "Something moved at "
                + p.site()
                + " since the plan was made: compare again, and rehearse what comes of it");
      }
      return "Nothing moved";
    }

    Outcome on(CaseWork.Outcome out) {
      Copies copies = new Copies(targets, r.number());
      Outcome outcome;
      try {
        outcome = copied(out, copies);
      } catch (RuntimeException e) {
        String left = dropped(copies);
        if (!left.isEmpty()) {
          book.change(x -> x.without(List.of(left)));
        }
        throw e;
      }
      String left = dropped(copies);
      return new Outcome(
          outcome.result(), left.isEmpty() ? outcome.sentence() : outcome.sentence() + " " + left);
    }

    private String dropped(Copies copies) {
      try {
        copies.close();
        return "";
      } catch (TargetFailed e) {
        return "Its copy may be left: " + e.getMessage() + ".";
      }
    }

    private Outcome copied(CaseWork.Outcome out, Copies copies) {
      List<String> beside = new ArrayList<>(besideThePlan());
      try (SiteLook look = targets.look(p.site())) {
        for (Targets.At at : targets.all(p.site())) {
          Delta delta = out.delta().of(at.holder());
          if (delta == null || delta.isEmpty()) {
            continue;
          }
          String why = why(at);
          if (!why.isEmpty()) {
            beside.add(delta.words() + " of " + at.target().key() + ": " + why);
          } else if (delta instanceof TablesDelta t) {
            copyTables(copies, at, look, out, t, beside);
          } else {
            part(
                "Copy what the plan can touch of " + at.target().key(),
                null,
                () -> copies.items(at, look, (ItemsDelta) delta, book::alive) + " copied");
          }
        }
      }
      book.change(x -> x.without(beside));
      return carried(out, copies);
    }

    private void copyTables(
        Copies copies,
        Targets.At at,
        SiteLook look,
        CaseWork.Outcome out,
        TablesDelta delta,
        List<String> beside) {
      List<Uncarried> uncarried = out.compared().uncarried();
      if (!uncarried.isEmpty()) {
        Map<String, Long> sorts =
            uncarried.stream()
                .collect(
                    Collectors.groupingBy(
                        u -> u.sort().word(), TreeMap::new, Collectors.counting()));
        beside.add(
            "what Plenzo does not carry is not in the copy: "
                + sorts.entrySet().stream()
                    .map(e -> Words.count(e.getValue(), e.getKey()))
                    .collect(Collectors.joining(", ")));
      }
      part(
          "Copy what the plan can touch of " + at.target().key(),
          null,
          () -> copies.tables(at, look, out.compared(), delta, book::alive),
          made ->
              Words.count(made.tables(), "table")
                  + " with "
                  + Words.count(made.rows(), "row")
                  + " copied");
    }

    /** What no copy can show. */
    private List<String> besideThePlan() {
      List<String> out = new ArrayList<>();
      int hands = p.requirePlan().manual().size();
      if (hands > 0) {
        out.add(hands == 1 ? "1 piece of work by hand" : hands + " pieces of work by hand");
      }
      return out;
    }

    private boolean backByVersion() {
      return p.brings()
          && p.requirePlan().waysBack().stream()
              .anyMatch(w -> w.way() == Plan.Way.EARLIER_VERSION && w.possible());
    }

    /** A host's place of its own reads the site's own rows, not those of the copy. */
    private boolean answers(Copies copies, Holder asked) {
      Set<Holder> copied = copies.holders();
      return copied.contains(asked) && (asked != Holder.HOST || !copied.contains(Holder.DATABASE));
    }

    private Outcome carried(CaseWork.Outcome out, Copies copies) {
      List<String> schemas = work.schemasAt(p.site());
      String space = work.space(p.application());
      Set<ComponentKey> touched = touched(out.delta(), copies);
      Incoming incoming = new OnlyIncoming(work.incoming(p), touched::contains);
      List<Probe> questions = new ArrayList<>();
      List<Probe> elsewhere = new ArrayList<>();
      for (Probe q : work.boundTo().questions(p.application(), p.site())) {
        Holder asked = Probing.holder(q);
        (asked != null && answers(copies, asked) ? questions : elsewhere).add(q);
      }
      if (!elsewhere.isEmpty()) {
        book.change(
            x ->
                x.without(
                    List.of(
                        "questions that no copy answers: "
                            + elsewhere.stream()
                                .map(Probe::name)
                                .collect(Collectors.joining(", ")))));
      }
      SiteDelta delta;
      Measured start;
      Map<String, Answer> before;
      BackupFile file = new BackupFile(tools.files(), folder(r));
      Run.Backup backup;
      try (SiteLook look = copies.look()) {
        delta = onTheCopy(out, copies, look, incoming, space);
        start = Measured.of(look, schemas, space, book::alive);
        backup =
            part(
                "Back up the copy",
                Act.BACK_UP,
                () -> file.write(look, delta, r.shown(), tools.now(), rows -> book.alive()),
                made -> Words.count(made.bytes(), "byte"));
        before = asked(look, questions);
      }
      switchOver(copies, THERE, delta, "Carry out the plan at the copy of ");
      Map<String, Answer> after;
      try (SiteLook look = copies.look()) {
        part(
            "Compare with the version",
            Act.READ_BACK,
            () -> asPlanned(look, incoming, out.compared(), space));
        after = asked(look, questions);
      }
      if (!questions.isEmpty()) {
        part("Ask the questions", Act.ASK_AFTER, () -> judged(questions, before, after));
      }
      BackupIncoming kept =
          new BackupIncoming(file, backup).renamed(delta.tables().renaming().inverse());
      if (!kept.withoutKey().isEmpty()) {
        return new Outcome(
            Result.CARRIED_OUT,
            "The plan was carried out on a copy. It was not taken back there: rows of "
                + String.join(", ", kept.withoutKey())
                + " have no key by which they are told apart.");
      }
      back(copies, kept, space);
      part(
          "Compare with the start",
          null,
          () -> {
            try (SiteLook look = copies.look()) {
              List<String> odd = start.differing(Measured.of(look, schemas, space, book::alive));
              if (!odd.isEmpty()) {
                throw failed("Taken back, the copy is not as before at " + some(odd));
              }
            }
            return "Everything is as it was";
          });
      if (!backByVersion()) {
        return new Outcome(Result.PROVEN, PROVEN + "; then everything was as before.");
      }
      List<String> odd = byVersion(copies, out, incoming, kept, start, touched, space);
      if (odd.isEmpty()) {
        return new Outcome(
            Result.PROVEN,
            PROVEN + ", and once more by the earlier version; each time everything was as before.");
      }
      book.change(
          x ->
              x.without(
                  List.of(
                      "going back by the earlier version would leave otherwise: " + some(odd))));
      return new Outcome(
          Result.PROVEN,
          PROVEN + "; then everything was as before. By the earlier version it would not be.");
    }

    /**
     * Carries the plan out once more and goes back by the earlier version.
     *
     * @return places that are not as before then
     */
    private List<String> byVersion(
        Copies copies,
        CaseWork.Outcome out,
        Incoming incoming,
        BackupIncoming kept,
        Measured start,
        Set<ComponentKey> touched,
        String space) {
      Incoming earlier = new OnlyIncoming(work.earlierAfter(p, out, kept), touched::contains);
      // of names that change places, the copy does what the site does
      Compared again =
          compared(copies, out.delta().tables().renaming(), incoming, out.decisions(), space);
      try {
        ItemsDelta host = out.delta().items().get(Holder.HOST);
        switchOver(
            copies,
            THERE_AGAIN,
            again.delta(p.activate(), host == null ? Map.of() : host.bindings()),
            "Carry out the plan once more at the copy of ");
      } finally {
        work.comparer().files().remove(again.id());
      }
      Compared back = compared(copies, earlier.renaming(), earlier, Map.of(), space);
      try {
        try (SiteLook copy = copies.look()) {
          SiteLook look = copy.renamed(earlier.renaming(), Copies.AHEAD);
          if (look.findTables().isPresent()) {
            back =
                new Fitting(
                        work.comparer().files(), look.tables(), back, () -> List.of(kept), Map.of())
                    .fit();
          }
        }
        switchOver(
            copies,
            BACK_BY_VERSION,
            back.delta(Set.of(), Map.of()),
            "Go back by the earlier version at the copy of ");
      } finally {
        work.comparer().files().remove(back.id());
      }
      return part(
          "Compare with the start again",
          null,
          () -> {
            try (SiteLook look = copies.look()) {
              return start.differing(
                  Measured.of(look, work.schemasAt(p.site()), space, book::alive));
            }
          },
          odd -> odd.isEmpty() ? "Everything is as it was" : "Otherwise at " + some(odd));
    }

    /**
     * @param names what has other names once that is carried out
     */
    private Compared compared(
        Copies copies,
        Renaming names,
        Incoming incoming,
        Map<String, Decision> decisions,
        String space) {
      try (SiteLook look = copies.look()) {
        return work.comparer()
            .compare(
                look.renamed(names, Copies.AHEAD),
                work.schemasAt(p.site()),
                space,
                incoming,
                decisions,
                List.of());
      }
    }

    /**
     * The plan of the copy: of tables and definitions the same, since copies have the revisions of
     * what was copied; of files what a comparison there says.
     */
    private SiteDelta onTheCopy(
        CaseWork.Outcome out, Copies copies, SiteLook look, Incoming incoming, String space) {
      Map<Holder, ItemsDelta> items = new EnumMap<>(Holder.class);
      if (copies.holders().contains(Holder.DIRECTORY)) {
        Compared there =
            work.comparer()
                .compare(
                    look,
                    List.of(),
                    space,
                    new OnlyIncoming(incoming, k -> k.kind().holder() == Holder.DIRECTORY),
                    out.decisions(),
                    List.of());
        try {
          ItemsDelta found =
              Objects.requireNonNull(there.delta(Set.of(), Map.of()).items().get(Holder.DIRECTORY));
          ItemsDelta planned = Objects.requireNonNull(out.delta().items().get(Holder.DIRECTORY));
          if (!contents(found).equals(contents(planned))) {
            throw failed("The copy of the files asks for another plan than the site");
          }
          items.put(Holder.DIRECTORY, found);
        } finally {
          work.comparer().files().remove(there.id());
        }
      }
      ItemsDelta definitions = out.delta().items().get(Holder.HOST);
      if (definitions != null && copies.holders().contains(Holder.HOST)) {
        items.put(Holder.HOST, definitions);
      }
      return new SiteDelta(
          copies.holders().contains(Holder.DATABASE) ? out.delta().tables() : TablesDelta.NONE,
          items);
    }

    /** What is written, without the seals of the place. */
    private Map<ComponentKey, String> contents(ItemsDelta delta) {
      Map<ComponentKey, String> out = new LinkedHashMap<>();
      delta
          .changes()
          .forEach(c -> out.put(c.key(), c.act() + " " + c.present() + " " + c.incoming()));
      return out;
    }

    /** What of tables, files and definitions a plan writes, by the names of before and after. */
    private Set<ComponentKey> touched(SiteDelta delta, Copies copies) {
      Set<ComponentKey> out = new HashSet<>();
      if (copies.holders().contains(Holder.DATABASE)) {
        Renaming back = delta.tables().renaming().inverse();
        Set<String> names =
            delta.tables().touched().stream()
                .map(TableName::componentName)
                .collect(Collectors.toSet());
        work.incoming(p).components().stream()
            .filter(k -> k.kind().holder() == Holder.DATABASE && names.contains(k.name()))
            .flatMap(k -> Stream.of(k, back.named(k)))
            .forEach(out::add);
      }
      delta
          .items()
          .forEach(
              (holder, items) -> {
                if (copies.holders().contains(holder)) {
                  items.changes().forEach(c -> out.add(c.key()));
                }
              });
      return out;
    }

    private void switchOver(Copies copies, long run, SiteDelta delta, String does) {
      for (Holder holder : delta.touched()) {
        Targets.At at = copies.at(holder);
        Delta change = Objects.requireNonNull(delta.of(holder));
        part(
            does + at.target().key(),
            Act.SWITCH,
            () -> {
              try (Changing session = copies.change(holder)) {
                session.declare(
                    at.identity(tools.keeper().service(), tools.now()), copies.account(holder));
                session.claim();
                session.prepare(run, change, watch);
                session.switchOver(mark(run), change, watch);
                session.discard(run);
              }
              return change.words() + " written";
            });
      }
    }

    private RunMark mark(long run) {
      return new RunMark(
          run, "switch", 1, p.version().text(), r.fingerprint(), r.by(), /* anchor= */ null);
    }

    /** Nobody else writes to a copy: what is in conflict there and was not in the plan is odd. */
    private List<String> inConflict(Compared now, Compared then) {
      Map<ComponentKey, Long> was = new HashMap<>();
      then.components().forEach(c -> was.put(c.key(), c.counts().conflict()));
      return now.components().stream()
          .filter(c -> c.counts().conflict() > was.getOrDefault(c.key(), 0L))
          .map(c -> c.key().toString())
          .toList();
    }

    private String asPlanned(SiteLook look, Incoming incoming, Compared planned, String space) {
      Compared now =
          work.comparer()
              .compare(look, work.schemasAt(p.site()), space, incoming, p.decisions(), List.of());
      try {
        List<String> odd = new ArrayList<>(now.delta(Set.of(), Map.of()).places());
        odd.addAll(inConflict(now, planned));
        if (!odd.isEmpty()) {
          throw failed("Carried out, the copy is not as planned at " + some(odd));
        }
        return "What is there is what was planned";
      } finally {
        work.comparer().files().remove(now.id());
      }
    }

    private void back(Copies copies, BackupIncoming kept, String space) {
      Compared now = compared(copies, kept.renaming(), kept, Map.of(), space);
      try {
        switchOver(copies, BACK, now.delta(Set.of(), Map.of()), "Take it back at the copy of ");
      } finally {
        work.comparer().files().remove(now.id());
      }
    }

    private Map<String, Answer> asked(SiteLook look, List<Probe> questions) {
      return Probing.ask(
          look,
          p.site(),
          questions,
          page -> {
            throw new IllegalStateException("A page is no part of a copy");
          },
          line -> {});
    }

    private String judged(
        List<Probe> questions, Map<String, Answer> before, Map<String, Answer> after) {
      List<Judged> all = new ArrayList<>();
      List<String> silent = new ArrayList<>();
      List<String> odd = new ArrayList<>();
      for (Probe q : questions) {
        Answer was = Objects.requireNonNull(before.get(q.name()));
        Answer is = Objects.requireNonNull(after.get(q.name()));
        if (!was.given() && !is.given()) {
          silent.add(q.name());
          continue;
        }
        Judged judged = Judged.of(q, was, is);
        all.add(judged);
        if (!judged.passed()) {
          odd.add("\"" + q.name() + "\" " + judged.words());
        }
      }
      if (!silent.isEmpty()) {
        book.change(
            x ->
                x.without(List.of("questions that no copy answers: " + String.join(", ", silent))));
      }
      if (!odd.isEmpty()) {
        throw failed(String.join("; ", odd));
      }
      return all.isEmpty() ? "None could be asked" : Judged.words(all);
    }

    private String some(List<String> places) {
      int most = Math.min(5, places.size());
      return String.join("; ", places.subList(0, most))
          + (places.size() > most ? "; and " + (places.size() - most) + " more" : "");
    }
  }
}
