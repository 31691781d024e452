package plenzo.engine.looking;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.history.Thing;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memos;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.engine.Tools;
import plenzo.engine.packaging.Keys;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Targets;
import plenzo.packages.PackageRefused;
import plenzo.packages.SignedHead;

/** What people look back on, and whether it is whole. */
public final class History {
  /** Entries of the chain in the memory at once: about four megabytes. */
  private static final int PAGE = 4_000;

  /** Events of one sort that are read at once when changes of something are looked for. */
  private static final int CHANGES = 500;

  /** Entries that are read for one answer where something is looked for. */
  private static final int SOUGHT = 20_000;

  private final Tools tools;
  private final Keys keys;
  private final Anchors anchors;

  private final Memos<List<Object>, Slice<HistoryEntry>> lists = new Memos<>(50);

  /** How far those who verify now are, by their sign-in name. */
  private final Map<String, Progress> verifying = new ConcurrentHashMap<>();

  /**
   * How far somebody's verifying is.
   *
   * @param of entries that the history had when it began; 0 when nothing is under way
   */
  public record Progress(long checked, long of) {
    static final Progress NONE = new Progress(0, 0);
  }

  public History(Tools tools, Targets targets, Keys keys) {
    this.tools = tools;
    this.keys = keys;
    this.anchors = new Anchors(tools, targets);
  }

  /** Events that the person may see, newest first. */
  public Slice<HistoryEntry> list(Person by, Kept.HistoryFilter filter) {
    Kept.HistorySight who = sight(by);
    return lists.get(List.of(filter, who), tools.keeper().stamp(), () -> read(filter, who));
  }

  private static Kept.HistorySight sight(Person by) {
    return new Kept.HistorySight(
        Sight.of(by, Right.LOOK), by.login(), by.may(Right.AUDIT, Person.EVERY, Person.EVERY));
  }

  private Slice<HistoryEntry> read(Kept.HistoryFilter filter, Kept.HistorySight who) {
    return tools.keeper().read(kept -> kept.history(filter, who));
  }

  /**
   * What is looked for in it.
   *
   * @param site key of a site, such as north; null for any
   * @param text part of what an entry says, in any case of letters; null for any
   * @param task one that the entry's version was made for, as a whole; null for any
   * @param from the earliest time; null for any
   * @param until the time before which it was; null for any
   */
  public record Sought(
      @Nullable String site,
      @Nullable String text,
      @Nullable String task,
      @Nullable Instant from,
      @Nullable Instant until) {
    boolean all() {
      return site == null && text == null && task == null && from == null && until == null;
    }
  }

  /**
   * Events that the person may see and that are what is looked for, newest first. So many entries
   * are read for one answer; the next part goes on there, also where this one found nothing.
   */
  public Slice<HistoryEntry> find(Person by, Kept.HistoryFilter filter, Sought sought) {
    if (sought.all()) {
      return list(by, filter);
    }
    Kept.HistorySight who = sight(by);
    Set<String> versions = sought.task() == null ? Set.of() : versions(sought.task());
    String text = sought.text() == null ? "" : sought.text().toLowerCase(Locale.ROOT);
    List<HistoryEntry> out = new ArrayList<>();
    long from = filter.before();
    for (int n = 0; n < SOUGHT; n += CHANGES) {
      Slice<HistoryEntry> part =
          read(
              new Kept.HistoryFilter(
                  filter.application(),
                  filter.stage(),
                  filter.event(),
                  filter.actor(),
                  from,
                  CHANGES),
              who);
      for (HistoryEntry e : part.items()) {
        if (sought.from() != null && e.at().isBefore(sought.from())) {
          return Slice.whole(out);
        }
        boolean is =
            (sought.until() == null || e.at().isBefore(sought.until()))
                && (sought.site() == null || sought.site().equals(e.site()))
                && (sought.task() == null || versions.contains(e.application() + "@" + e.version()))
                && e.text().toLowerCase(Locale.ROOT).contains(text);
        if (is) {
          out.add(e);
          if (out.size() == filter.limit()) {
            return new Slice<>(out, e.sequence());
          }
        }
      }
      from = part.next();
      if (from == 0) {
        return Slice.whole(out);
      }
    }
    return new Slice<>(out, from);
  }

  /** All of a span that the person may see, the oldest first. */
  public List<HistoryEntry> span(
      Person by,
      @Nullable String application,
      @Nullable String stage,
      Instant from,
      Instant until) {
    Kept.HistorySight who = sight(by);
    List<HistoryEntry> out = new ArrayList<>();
    long next = 0;
    boolean before = false;
    do {
      var part = read(new Kept.HistoryFilter(application, stage, null, null, next, CHANGES), who);
      for (HistoryEntry e : part.items()) {
        before |= e.at().isBefore(from);
        if (!e.at().isBefore(from) && e.at().isBefore(until)) {
          out.add(e);
        }
      }
      next = part.next();
    } while (next != 0 && !before);
    Collections.reverse(out);
    return out;
  }

  private Set<String> versions(String task) {
    return tools
        .keeper()
        .read(
            kept -> {
              Set<String> out = new HashSet<>();
              kept.applications()
                  .all()
                  .forEach(
                      a ->
                          kept.versions().list(a.key()).stream()
                              .filter(v -> v.tasks().contains(task))
                              .forEach(v -> out.add(a.key() + "@" + v.number())));
              return out;
            });
  }

  /**
   * What was changed of something that is set up, newest first, as far as the person may see it.
   *
   * @param before a sequence number, 0 for the newest
   */
  public Slice<HistoryEntry> changes(Person by, Thing of, long before, int limit) {
    Kept.HistorySight who = sight(by);
    Predicate<HistoryEntry> isAbout = of.about();
    List<HistoryEntry> out = new ArrayList<>();
    boolean more = false;
    for (String event : of.events()) {
      long from = before;
      int found = 0;
      while (found <= limit) {
        Slice<HistoryEntry> part =
            read(
                new Kept.HistoryFilter(of.application(), of.stage(), event, null, from, CHANGES),
                who);
        List<HistoryEntry> about = part.items().stream().filter(isAbout).toList();
        out.addAll(about);
        found += about.size();
        from = part.next();
        if (from == 0) {
          break;
        }
      }
      more |= from != 0;
    }
    out.sort(Comparator.comparingLong(HistoryEntry::sequence).reversed());
    if (out.size() <= limit && !more) {
      return Slice.whole(out);
    }
    List<HistoryEntry> page = out.subList(0, Math.min(limit, out.size()));
    return new Slice<>(page, page.get(page.size() - 1).sequence());
  }

  /** The head of now, signed by the service's key, to be kept elsewhere. */
  public String head(Person by) {
    Rights.require(by, Right.AUDIT, Person.EVERY, Person.EVERY);
    return SignedHead.sign(
        tools.keeper().read(Kept::head), tools.keeper().service(), tools.now(), keys.signing());
  }

  /**
   * Whether the history is whole: every entry, and against every head that was kept outside.
   *
   * @param broken number of the first entry that was altered, 0 when none was
   * @param anchors heads that were kept outside, each with whether the history still holds it
   * @param silent where no head could be read now
   */
  public record Chain(
      long entries, Anchor head, long broken, List<Anchored> anchors, List<String> silent) {
    public Chain {
      anchors = List.copyOf(anchors);
      silent = List.copyOf(silent);
    }

    public boolean whole() {
      return broken == 0 && anchors.stream().allMatch(Anchored::holds);
    }
  }

  /**
   * One head that was kept outside.
   *
   * @param where such as "production/north database, R-12"
   * @param why why the history does not hold it; empty when it does
   */
  public record Anchored(String where, Anchor anchor, boolean holds, String why) {}

  /** How far the person's own verifying is. */
  public Progress verifying(Person by) {
    Rights.require(by, Right.AUDIT, Person.EVERY, Person.EVERY);
    return verifying.getOrDefault(by.login(), Progress.NONE);
  }

  /**
   * @param kept a head that somebody kept in a file, null for none
   */
  public Chain verify(Person by, @Nullable String kept) {
    Rights.require(by, Right.AUDIT, Person.EVERY, Person.EVERY);
    Map<String, Anchor> outside = new LinkedHashMap<>();
    List<Anchored> foreign = new ArrayList<>();
    if (kept != null) {
      given(kept, outside, foreign);
    }
    List<String> silent = new ArrayList<>();
    anchors.read(outside, silent);
    Walk walk;
    try {
      walk = walk(outside, p -> verifying.put(by.login(), p));
    } finally {
      verifying.remove(by.login());
    }
    List<Anchored> out = new ArrayList<>(foreign);
    outside.forEach(
        (where, a) -> {
          String hash = walk.found().get(a.number());
          boolean holds = a.hash().equals(a.number() == 0 ? HistoryEntry.START : hash);
          out.add(
              new Anchored(
                  where,
                  a,
                  holds,
                  holds
                      ? ""
                      : hash == null
                          ? "there is no entry " + a.number() + " any more: the history was cut"
                          : "entry " + a.number() + " is another one"));
        });
    return new Chain(walk.entries(), walk.head(), walk.broken(), out, silent);
  }

  private void given(String kept, Map<String, Anchor> outside, List<Anchored> foreign) {
    SignedHead head;
    try {
      head = SignedHead.read(kept);
    } catch (PackageRefused e) {
      throw Problem.invalid("HEAD", String.valueOf(e.getMessage()), "/head");
    }
    String where = "the given file, of " + head.at();
    String why =
        !head.service().equals(tools.keeper().service())
            ? "it is of another service"
            : keys.known(head.keyId()).isEmpty() ? "its key is not one of this service" : "";
    if (why.isEmpty()) {
      outside.put(where, head.anchor());
    } else {
      foreign.add(new Anchored(where, head.anchor(), false, why));
    }
  }

  /** One way through the whole chain, newest first, in constant memory. */
  record Walk(long entries, Anchor head, long broken, Map<Long, String> found) {}

  Walk walk(Map<String, Anchor> wanted, Consumer<Progress> told) {
    Set<Long> numbers = new HashSet<>();
    wanted.values().forEach(a -> numbers.add(a.number()));
    Map<Long, String> found = new HashMap<>();
    Anchor head = tools.keeper().read(Kept::head);
    long entries = 0;
    long broken = 0;
    long before = 0;
    String expected = head.hash();
    Beside beside = new Beside(tools.keeper().read(Kept::names));
    while (true) {
      told.accept(new Progress(entries, head.number()));
      long from = before;
      List<HistoryEntry> page =
          tools.keeper().read(kept -> kept.history(Kept.HistoryFilter.part(from, PAGE)));
      for (HistoryEntry e : page) {
        if (!expected.equals(e.hash()) || !e.computedHash().equals(e.hash()) || !beside.fits(e)) {
          broken = e.sequence();
        }
        if (numbers.contains(e.sequence())) {
          found.put(e.sequence(), e.hash());
        }
        expected = e.before();
        before = e.sequence();
        entries++;
      }
      if (page.isEmpty() || before == 1) {
        break;
      }
    }
    if (!expected.equals(HistoryEntry.START)) {
      broken = Math.max(1, broken);
    }
    return new Walk(entries, head, broken, found);
  }

  /**
   * Whether what people read of an entry is what its chain has, with the names beside it. A name
   * that is blanked without an event that says so was blanked by nobody who may; the newest entries
   * are asked about first, and the event is newer than what it blanked.
   */
  private static final class Beside {
    private final Names names;
    private final Set<String> closed = new HashSet<>();

    Beside(Names names) {
      names.all().stream().filter(c -> c.blanked() || !c.holds()).forEach(c -> closed.add(c.id()));
      this.names = names;
    }

    boolean fits(HistoryEntry e) {
      if (e.event().equals(Names.BLANKED)) {
        List<String> said = Arrays.asList(e.text().split("[ ,]+"));
        names.all().stream()
            .filter(c -> c.blanked() && said.contains(c.id()))
            .forEach(c -> closed.remove(c.id()));
      }
      HistoryEntry.Chained chained = e.chained();
      return chained == null
          || e.readsAs(names)
              && Names.signsIn(chained.actor() + chained.text()).stream()
                  .noneMatch(closed::contains);
    }
  }
}
