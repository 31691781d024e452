package plenzo.engine.keeping;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.evidence.Evidence;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.retention.Item;
import plenzo.core.retention.Keeping;
import plenzo.core.retention.Preview;
import plenzo.core.retention.Rules;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.source.SourceCopies;
import plenzo.core.trust.Parcel;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/**
 * How long Plenzo's own files stay. Nothing is cleared that was not listed before; what a way back,
 * an open case or a note needs stays whatever its age. First it is written down what goes, then it
 * goes: a kill in between leaves files that {@link #tidy()} takes away.
 */
public final class Retention {
  private static final String FACT = "retention";

  /** Things that one line of the history names. */
  private static final int NAMED = 20;

  /** Who clears where nobody does. */
  private static final String BY_ITSELF = "plenzo";

  private final Tools tools;

  public Retention(Tools tools) {
    this.tools = tools;
  }

  private static void require(Person by) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
  }

  /** The rules are for everybody to know. */
  public Rules rules() {
    return tools.keeper().read(Retention::rules);
  }

  private static Rules rules(Kept kept) {
    return kept.fact(FACT).map(Rules::of).orElse(Rules.FOR_EVER);
  }

  /**
   * Sets them; nothing is cleared by that.
   *
   * @param days by the codes of the sorts
   */
  public Rules set(Person by, Map<String, Integer> days, boolean daily) {
    require(by);
    return set(by, rules(days, daily));
  }

  private static Rules rules(Map<String, Integer> days, boolean daily) {
    Map<Sort, Integer> out = new EnumMap<>(Sort.class);
    days.forEach((code, n) -> out.put(Sort.of(code), n));
    return new Rules(out, daily);
  }

  public Rules set(Person by, Rules rules) {
    require(by);
    return tools
        .keeper()
        .write(
            kept -> {
              Rules before = rules(kept);
              kept.fact(FACT, rules.text());
              kept.note(
                  Event.of(
                      by.login(), "retention changed", words(rules) + "; before: " + words(before)),
                  tools.now());
              return rules;
            });
  }

  /** "backups 90 days, the rest for ever; cleared each day". */
  public static String words(Rules r) {
    List<String> out = new ArrayList<>();
    for (Sort s : Sort.values()) {
      Integer n = r.of(s);
      if (n != null) {
        out.add(s.many() + " " + n + (n == 1 ? " day" : " days"));
      }
    }
    out.add(out.isEmpty() ? "everything for ever" : "the rest for ever");
    return String.join(", ", out) + (r.daily() ? "; cleared each day" : "; cleared when asked");
  }

  /** By days instead of rules that are set. */
  public Listed preview(Person by, Map<String, Integer> days) {
    require(by);
    Rules rules = rules(days, /* daily= */ false);
    return new Listed(rules, preview(by, rules));
  }

  /** By the rules that are set. */
  public Listed preview(Person by) {
    require(by);
    Rules rules = rules();
    return new Listed(rules, preview(by, rules));
  }

  /** A list, and by which rules it was made. */
  public record Listed(Rules rules, Preview list) {}

  /** What would go by these rules, and what stays. */
  public Preview preview(Person by, Rules rules) {
    require(by);
    return tools.keeper().read(kept -> preview(kept, rules));
  }

  private Preview preview(Kept kept, Rules rules) {
    Holds holds = Holds.read(kept);
    List<Item> items = items(kept, holds);
    Map<String, Keeping> notes = new HashMap<>();
    Holds.each(kept.keepings(), List.of(Keeping.State.NOTE.code()), n -> notes.put(n.id(), n));
    return Preview.of(items, rules, holds.reasons(), notes, tools.now(), i -> size(i.file()));
  }

  /** What lies there and is known to a record; what no record knows is not touched. */
  private List<Item> items(Kept kept, Holds holds) {
    List<Item> out = new ArrayList<>();
    for (String name : tools.files().list("backup")) {
      run(kept, name).ifPresent(r -> out.add(item(Sort.BACKUP, r, "backup/" + name)));
    }
    for (String name : tools.files().list("log")) {
      run(kept, name.replace(".log", "")).ifPresent(r -> out.add(item(Sort.LOG, r, "log/" + name)));
    }
    Holds.each(
        kept.promotions(),
        List.of(),
        p -> {
          String folder = p.comparison() == null ? "" : "comparison/" + p.comparison();
          if (!folder.isEmpty() && tools.files().exists(folder)) {
            out.add(comparison(p, folder));
          }
        });
    Holds.each(
        kept.parcels(),
        List.of(),
        p -> {
          if (tools.files().exists(p.file())) {
            holds.parcel(p);
            out.add(parcel(p));
          }
        });
    Holds.each(
        kept.copies(),
        List.of(),
        of -> {
          holds.copies(of);
          of.copies().stream()
              .filter(c -> tools.files().exists(c.file()))
              .forEach(c -> out.add(copy(of.application(), c)));
        });
    Holds.each(
        kept.evidence(),
        List.of(),
        e -> {
          if (tools.files().exists(e.file())) {
            holds.evidence(e.shown(), e.application(), e.version());
            out.add(evidence(e));
          }
        });
    return out;
  }

  private static Optional<Run> run(Kept kept, String shown) {
    return shown.matches("R-[0-9]{1,15}") ? kept.runs().find(shown.substring(2)) : Optional.empty();
  }

  private static Item item(Sort sort, Run r, String file) {
    return new Item(
        sort,
        Holds.id(sort, r.shown()),
        r.application() + " " + r.version() + " at " + r.site(),
        r.endedAt() == null ? r.queuedAt() : r.endedAt(),
        file,
        List.of(r.shown(), "P-" + r.promotion(), r.application() + "@" + r.version()));
  }

  private static Item comparison(Promotion p, String folder) {
    return new Item(
        Sort.COMPARISON,
        Holds.id(Sort.COMPARISON, p.shown()),
        p.application() + " " + p.version() + " to " + p.site(),
        p.comparedAt() == null ? p.preparedAt() : p.comparedAt(),
        folder,
        List.of(p.shown(), p.application() + "@" + p.version()));
  }

  private static Item parcel(Parcel p) {
    return new Item(
        Sort.PACKAGE,
        Holds.id(Sort.PACKAGE, p.id()),
        p.application() + " " + p.number() + ", " + p.name(),
        p.at(),
        p.file(),
        List.of(p.id(), p.application() + "@" + p.number()));
  }

  private static Item copy(String application, SourceCopies.Copy c) {
    return new Item(
        Sort.COPY,
        Holds.id(Sort.COPY, c.id()),
        application + " at " + c.site(),
        c.at(),
        c.file(),
        List.of(c.id()));
  }

  private static Item evidence(Evidence e) {
    return new Item(
        Sort.EVIDENCE,
        Holds.id(Sort.EVIDENCE, e.shown()),
        e.application() + " " + e.version() + " at " + e.site() + ", " + e.name(),
        e.at(),
        e.file(),
        List.of(e.shown(), "R-" + e.run(), e.application() + "@" + e.version()));
  }

  /** Bytes of a file, or of all below a folder. */
  private long size(String name) {
    List<String> below = tools.files().list(name);
    return below.isEmpty()
        ? tools.files().exists(name) ? tools.files().size(name) : 0
        : below.stream().mapToLong(n -> size(name + "/" + n)).sum();
  }

  /**
   * Clears what the rules that are set let go.
   *
   * @param expect digest of the list that was read
   * @throws Problem when the list is another by now; nothing is cleared then
   */
  public Preview clear(Person by, String expect) {
    require(by);
    return clear(by.login(), expect);
  }

  /** The same without anybody asking, where the rules say so. */
  public Optional<Preview> byItself() {
    if (!rules().daily()) {
      return Optional.empty();
    }
    return Optional.of(clear(BY_ITSELF, null));
  }

  private Preview clear(String by, @Nullable String expect) {
    Preview cleared =
        tools
            .keeper()
            .write(
                kept -> {
                  Preview now = preview(kept, rules(kept));
                  if (expect != null && !now.digest().hex().equals(expect)) {
                    throw Problem.changed(
                        "LIST",
                        "What would go is another list now: " + now.counted() + ".",
                        "Read it again: plenzo retention preview");
                  }
                  if (!now.going().isEmpty()) {
                    write(kept, by, now);
                  }
                  return now;
                });
    cleared.going().forEach(l -> tools.files().remove(l.item().file()));
    return cleared;
  }

  private void write(Kept kept, String by, Preview now) {
    Instant at = tools.now();
    for (Preview.Line l : now.going()) {
      kept.keepings().remove(l.item().id());
      kept.keepings()
          .insert(
              new Keeping(
                  l.item().id(), Keeping.State.CLEARED, by, at, l.why(), null, l.bytes(), 0));
      if (l.item().sort() == Sort.COPY) {
        forgotten(kept, l.item().subjects().get(0));
      }
      if (l.item().sort() == Sort.BACKUP) {
        saidAtItsRun(kept, l.item(), by, at);
      }
    }
    List<String> names = now.going().stream().limit(NAMED).map(l -> l.item().id()).toList();
    int more = now.going().size() - names.size();
    kept.note(
        Event.of(
            by,
            "files cleared",
            now.counted()
                + ", "
                + now.bytes()
                + " bytes: "
                + String.join(", ", names)
                + (more > 0 ? " and " + more + " more" : "")),
        at);
  }

  private static void forgotten(Kept kept, String copy) {
    Holds.each(
        kept.copies(),
        List.of(),
        of -> {
          if (of.copies().stream().anyMatch(c -> c.id().equals(copy))) {
            kept.copies().replace(of.without(copy));
          }
        });
  }

  private static void saidAtItsRun(Kept kept, Item item, String by, Instant at) {
    run(kept, item.subjects().get(0))
        .ifPresent(
            r -> {
              Run.Backup backup = r.backup();
              if (backup != null) {
                kept.runs().replace(r.withBackup(backup.cleared(by, at)));
              }
            });
  }

  /** Takes away what was cleared and lies there still, as a kill came in between. */
  public void tidy() {
    List<Keeping> cleared = new ArrayList<>();
    tools
        .keeper()
        .read(
            kept -> {
              Holds.each(kept.keepings(), List.of(Keeping.State.CLEARED.code()), cleared::add);
              return null;
            });
    if (cleared.isEmpty()) {
      return;
    }
    Map<String, Item> there = new HashMap<>();
    tools.keeper().read(kept -> items(kept, Holds.read(kept))).forEach(i -> there.put(i.id(), i));
    String copies = Holds.id(Sort.COPY, "");
    for (Keeping k : cleared) {
      if (k.id().startsWith(copies)) { // no record lists it any more, and no id comes twice
        tools.files().remove(SourceCopies.Copy.file(k.id().substring(copies.length())));
      }
      Item item = there.get(k.id());
      if (item != null && !item.at().isAfter(k.at())) {
        tools.files().remove(item.file());
      }
    }
  }

  /** What stays by a note, the newest first. */
  public List<Keeping> notes(Person by) {
    require(by);
    List<Keeping> out = new ArrayList<>();
    tools
        .keeper()
        .read(
            kept -> {
              Holds.each(kept.keepings(), List.of(Keeping.State.NOTE.code()), out::add);
              return null;
            });
    return out;
  }

  /**
   * Keeps a run, a case, a package, a file of evidence or a version, with all that is stored of it.
   *
   * @param until the last day; null for ever
   */
  public Keeping keep(Person by, String subject, String reason, @Nullable LocalDate until) {
    require(by);
    return tools
        .keeper()
        .write(
            kept -> {
              known(kept, subject);
              kept.keepings().remove(subject);
              Keeping note =
                  new Keeping(
                      subject, Keeping.State.NOTE, by.login(), tools.now(), reason, until, 0, 0);
              kept.keepings().insert(note);
              kept.note(
                  Event.of(
                      by.login(),
                      "kept by a note",
                      subject + (until == null ? "" : " until " + until) + ": " + reason),
                  tools.now());
              return note;
            });
  }

  public void letGo(Person by, String subject) {
    require(by);
    tools
        .keeper()
        .write(
            kept -> {
              if (kept.keepings()
                  .find(subject)
                  .filter(n -> n.state() == Keeping.State.NOTE)
                  .isEmpty()) {
                throw Problem.notFound("note that keeps", subject);
              }
              kept.keepings().remove(subject);
              return kept.note(Event.of(by.login(), "note ended", subject), tools.now());
            });
  }

  private static void known(Kept kept, String subject) {
    boolean there =
        switch (subject.isEmpty() ? ' ' : subject.contains("@") ? '@' : subject.charAt(0)) {
          case '@' -> kept.versions().head(subject).isPresent();
          case 'R' -> run(kept, subject).isPresent();
          case 'P' ->
              subject.matches("P-[0-9]{1,15}")
                  && kept.promotions().find(subject.substring(2)).isPresent();
          case 'K' -> kept.parcels().find(subject).isPresent();
          case 'C' ->
              kept.copies().all().stream()
                  .flatMap(of -> of.copies().stream())
                  .anyMatch(c -> c.id().equals(subject));
          case 'E' ->
              subject.matches("E-[0-9]{1,15}")
                  && kept.evidence().find(subject.substring(2)).isPresent();
          default -> false;
        };
    if (!there) {
      throw Problem.invalid(
          "SUBJECT",
          "There is no \""
              + subject
              + "\". Name a run (R-7), a promotion (P-15), a package (K-1), a copy (C-3), a file of"
              + " evidence (E-2) or a version (fares@2.4.0).",
          "/subject");
    }
  }
}
