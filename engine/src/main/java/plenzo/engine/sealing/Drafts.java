package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.version.Draft;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.SiteLook;

/** Collects components into a draft and seals it as a version. */
public final class Drafts {
  /** Rows that are gone are listed one by one up to here; more are said as a count. */
  private static final int MOST_GONE = 1000;

  private final Tools tools;
  private final Contents contents;
  private final Adoption adoption;
  private final Sources sources;

  public Drafts(Tools tools, Contents contents, Adoption adoption, Sources sources) {
    this.tools = tools;
    this.contents = contents;
    this.adoption = adoption;
    this.sources = sources;
  }

  public List<Draft> list(Person by, @Nullable String application) {
    return tools
        .keeper()
        .read(kept -> kept.drafts().list(new Kept.Filter(application, null, null, null, 500, 0)))
        .stream()
        .filter(d -> by.may(Right.LOOK, "*", d.application()))
        .toList();
  }

  public Draft get(Person by, String id) {
    return tools
        .keeper()
        .read(kept -> kept.drafts().find(id))
        .filter(d -> by.may(Right.LOOK, "*", d.application()))
        .orElseThrow(() -> Problem.notFound("draft", id));
  }

  public Draft start(Person by, String application, @Nullable SemVer from) {
    Rights.require(by, Right.AUTHOR, "*", application);
    return tools
        .keeper()
        .write(
            kept -> {
              SemVer start = from != null ? from : newest(kept, application).number();
              kept.versions()
                  .find(application + "@" + start)
                  .orElseThrow(() -> Problem.notFound("version", application + "@" + start));
              String id = "D-" + kept.next("draft");
              Draft draft =
                  new Draft(
                      id,
                      application,
                      start,
                      Draft.State.OPEN,
                      List.of(),
                      List.of(),
                      List.of(),
                      List.of("Nothing picked yet"),
                      List.of(),
                      List.of(),
                      by.login(),
                      tools.now(),
                      null,
                      0);
              kept.drafts().insert(draft);
              kept.note(
                  new Event(
                      by.login(),
                      "draft begun",
                      application,
                      null,
                      null,
                      start.text(),
                      null,
                      null,
                      id + " from " + start),
                  tools.now());
              return kept.drafts().find(id).orElseThrow();
            });
  }

  private static Version newest(Kept kept, String application) {
    return kept.versions().list(Kept.Filter.application(application)).stream()
        .max(java.util.Comparator.comparing(Version::number))
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NO_VERSION",
                    application + " has no version yet.",
                    "Adopt what a site holds first"));
  }

  private Application application(String key) {
    return tools
        .keeper()
        .read(kept -> kept.applications().find(key))
        .orElseThrow(() -> Problem.notFound("application", key));
  }

  private Version parent(Draft draft) {
    return tools
        .keeper()
        .read(kept -> kept.versions().find(draft.application() + "@" + draft.from()))
        .orElseThrow();
  }

  /** Adds components from a site together with what they need, each with its reason. */
  public Draft add(Person by, String id, SiteKey site, List<Adoption.Pick> asked) {
    Draft draft = open(by, id);
    Rights.require(by, Right.LOOK, site.stage(), draft.application());
    Version parent = parent(draft);
    Map<ComponentKey, Draft.Pick> picks = new TreeMap<>();
    draft.picks().forEach(p -> picks.put(p.key(), p));
    String space = application(draft.application()).schema();
    try (SiteLook look = sources.open(draft.application(), site)) {
      Closure closure = new Closure(sources, look, site, parent, space, picks);
      asked.forEach(pick -> closure.pick(pick, Closure.CHOSEN));
    }
    return save(draft.withPicks(List.copyOf(picks.values())));
  }

  /** Drops a component together with what was brought along for it alone. */
  public Draft drop(Person by, String id, ComponentKey key) {
    Draft draft = open(by, id);
    Version parent = parent(draft);
    String space = application(draft.application()).schema();
    Map<SiteKey, List<Draft.Pick>> chosen = new LinkedHashMap<>();
    draft.picks().stream()
        .filter(p -> p.reason().equals(Closure.CHOSEN) && !p.key().equals(key))
        .forEach(
            p ->
                chosen
                    .computeIfAbsent(new SiteKey(p.stage(), p.site()), s -> new ArrayList<>())
                    .add(p));
    // what is brought along is worked out anew, so that it goes unless something else needs it
    Map<ComponentKey, Draft.Pick> picks = new TreeMap<>();
    chosen.forEach(
        (site, list) -> {
          try (SiteLook look = sources.open(draft.application(), site)) {
            Closure closure = new Closure(sources, look, site, parent, space, picks);
            for (Draft.Pick p : list) {
              RecordsDefinition records =
                  p.options() == null ? null : RecordsDefinition.of(Json.parse(p.options()));
              closure.pick(new Adoption.Pick(p.key(), records, true), Closure.CHOSEN);
            }
          }
        });
    return save(draft.withPicks(List.copyOf(picks.values())));
  }

  /** Ticks what is taken away; everything else that is gone at the source is left where it is. */
  public Draft removals(Person by, String id, List<Removal> removals) {
    Draft draft = open(by, id);
    for (Removal r : removals) {
      if (!draft.gone().contains(r)) {
        throw Problem.invalid(
            "NOT_GONE", r + " is not among what is gone since " + draft.from() + ".", "/removals");
      }
    }
    return save(draft.withRemovals(removals));
  }

  public Draft discard(Person by, String id) {
    return save(open(by, id).with(Draft.State.DISCARDED));
  }

  private Draft open(Person by, String id) {
    Draft draft = get(by, id);
    Rights.require(by, Right.AUTHOR, "*", draft.application());
    if (draft.state() != Draft.State.OPEN) {
      throw Problem.stopped(
          "DRAFT_CLOSED",
          id + " is " + draft.state().name().toLowerCase(java.util.Locale.ROOT) + ".",
          "Start another draft");
    }
    return draft;
  }

  private Draft save(Draft draft) {
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.drafts().update(draft)) {
                throw Problem.changed(
                    "CHANGED", "Somebody else changed " + draft.id() + " meanwhile.", "Look again");
              }
              return kept.drafts().find(draft.id()).orElseThrow();
            });
  }

  /** Reads every pick anew at one instant and says what stands in the way of sealing. */
  public Draft check(Person by, String id) {
    Draft draft = open(by, id);
    return save(checked(draft, null));
  }

  private Draft checked(Draft draft, @Nullable List<VersionEntry> entries) {
    Version parent = parent(draft);
    List<String> problems = new ArrayList<>();
    List<Removal> gone = new ArrayList<>();
    List<String> coverage = new ArrayList<>();
    List<ComponentKey> left = new ArrayList<>();
    List<Draft.Pick> picks = new ArrayList<>();
    Map<SiteKey, List<Draft.Pick>> bySite = new LinkedHashMap<>();
    draft
        .picks()
        .forEach(
            p ->
                bySite
                    .computeIfAbsent(new SiteKey(p.stage(), p.site()), s -> new ArrayList<>())
                    .add(p));
    if (bySite.isEmpty()) {
      problems.add("Nothing is picked");
    }
    for (Map.Entry<SiteKey, List<Draft.Pick>> at : bySite.entrySet()) {
      try (SiteLook look = sources.open(draft.application(), at.getKey())) {
        for (Draft.Pick p : at.getValue()) {
          picks.add(read(look, parent, p, at.getKey(), problems, gone, entries));
        }
        leftBehind(look, draft, parent, gone, left);
        coverage.addAll(
            Coverage.of(look, application(draft.application()).schema(), parent, draft.picks()));
      }
    }
    references(draft, parent, picks, problems);
    List<Removal> ticked = draft.removals().stream().filter(gone::contains).toList();
    return new Draft(
        draft.id(),
        draft.application(),
        draft.from(),
        draft.state(),
        picks,
        ticked,
        gone,
        problems,
        left,
        coverage,
        draft.author(),
        draft.at(),
        tools.now(),
        draft.revision());
  }

  private Draft.Pick read(
      SiteLook look,
      Version parent,
      Draft.Pick p,
      SiteKey site,
      List<String> problems,
      List<Removal> gone,
      @Nullable List<VersionEntry> entries) {
    if (!p.key().kind().whole()) {
      problems.addAll(
          adoption.renames(look.tables(), look.tables().instance(), TableName.of(p.key().name())));
    }
    RecordsDefinition records =
        p.options() == null ? null : RecordsDefinition.of(Json.parse(p.options()));
    try {
      boolean renamed =
          problems.stream()
              .anyMatch(
                  x ->
                      x.startsWith("table/" + p.key().name() + " ")
                          && x.contains("looks like a rename"));
      if (renamed) {
        return new Draft.Pick(
            p.key(),
            p.uid(),
            p.stage(),
            p.site(),
            p.options(),
            p.reason(),
            null,
            0,
            "looks like a rename");
      }
      VersionEntry entry =
          adoption.read(look, new Adoption.Pick(p.key(), records, true), p.uid(), site.toString());
      VersionEntry was = parent.entry(p.key()).orElse(null);
      String changes =
          was == null
              ? "new"
              : was.content().equals(entry.content()) ? "same as in " + parent.number() : "";
      if (was != null && changes.isEmpty() && p.key().kind().whole()) {
        changes = "its content changed";
      } else if (was != null && changes.isEmpty()) {
        changes =
            sources.changes(
                look.tables(),
                p.key(),
                was,
                look.tables().table(TableName.of(p.key().name())).orElseThrow());
        goneParts(was, entry, gone);
      }
      if (entries != null) {
        entries.add(entry);
        if (p.seen() != null && !p.seen().equals(entry.content())) {
          problems.add(
              p.key() + " moved at " + site + " since the draft was checked: check it again");
        }
      }
      return new Draft.Pick(
          p.key(),
          p.uid(),
          p.stage(),
          p.site(),
          p.options(),
          p.reason(),
          entry.content(),
          entry.rows(),
          changes);
    } catch (Problem e) {
      problems.add(String.valueOf(e.getMessage()));
      return new Draft.Pick(
          p.key(),
          p.uid(),
          p.stage(),
          p.site(),
          p.options(),
          p.reason(),
          null,
          0,
          String.valueOf(e.getMessage()));
    }
  }

  private void goneParts(VersionEntry was, VersionEntry is, List<Removal> gone) {
    if (was.key().kind() == Kind.TABLE) {
      TableStructure a = contents.structure(was.content());
      TableStructure b = contents.structure(is.content());
      a.columns().stream()
          .filter(c -> b.column(c.name()).isEmpty())
          .forEach(c -> gone.add(new Removal(was.key(), "column/" + c.name())));
      a.constraints().stream()
          .filter(c -> b.constraint(c.name()).isEmpty())
          .forEach(c -> gone.add(new Removal(was.key(), "constraint/" + c.name())));
      a.indexes().stream()
          .filter(i -> b.indexes().stream().noneMatch(x -> x.name().equals(i.name())))
          .forEach(i -> gone.add(new Removal(was.key(), "index/" + i.name())));
      return;
    }
    try (RowReader a = contents.rows(was.content(), was.records().key().size());
        RowReader b = contents.rows(is.content(), is.records().key().size())) {
      RecordsComparison.merge(
          null,
          a,
          b,
          (then, row) -> true,
          /* replace= */ true,
          row -> {
            if (row.incoming() == null && gone.size() < MOST_GONE) {
              gone.add(new Removal(was.key(), "row/" + row.any().keyLine()));
            }
          });
    }
  }

  private void leftBehind(
      SiteLook look, Draft draft, Version parent, List<Removal> gone, List<ComponentKey> left) {
    Map<ComponentKey, ItemSeen> items =
        Sources.items(look, application(draft.application()).schema());
    for (VersionEntry e : parent.entries()) {
      if (draft.picks().stream().anyMatch(p -> p.key().equals(e.key()))) {
        continue;
      }
      if (!look.holds(e.key().kind())) {
        continue;
      }
      boolean there;
      boolean changed;
      if (e.key().kind().whole()) {
        ItemSeen seen = items.get(e.key());
        there = seen != null;
        changed = seen != null && !seen.content().equals(e.content());
      } else {
        TableCapture now = look.tables().table(TableName.of(e.key().name())).orElse(null);
        there = now != null;
        changed = now != null && !sources.changes(look.tables(), e.key(), e, now).isEmpty();
      }
      if (!there) {
        Removal whole = new Removal(e.key(), "");
        if (!gone.contains(whole)) {
          gone.add(whole);
        }
      } else if (changed && !left.contains(e.key())) {
        left.add(e.key());
      }
    }
  }

  /** What the picks need and the version would not hold. */
  private void references(
      Draft draft, Version parent, List<Draft.Pick> picks, List<String> problems) {
    Set<ComponentKey> held = new TreeSet<>();
    parent.entries().forEach(e -> held.add(e.key()));
    picks.forEach(p -> held.add(p.key()));
    Application application = application(draft.application());
    for (Draft.Pick p : picks) {
      for (ComponentKey needed : needs(p)) {
        if (application.owns(needed) && !held.contains(needed)) {
          problems.add(p.key() + " needs " + needed + ", which is not in the version");
        }
      }
    }
  }

  /** What the picked content refers to. */
  private Set<ComponentKey> needs(Draft.Pick p) {
    Set<ComponentKey> out = new TreeSet<>();
    Digest seen = p.seen();
    if (p.key().kind() == Kind.RECORDS) {
      out.add(new ComponentKey(Kind.TABLE, p.key().name()));
    } else if (seen != null && p.key().kind() == Kind.TABLE) {
      for (Constraint k : contents.structure(seen).foreignKeys()) {
        TableName other = Objects.requireNonNull(k.references());
        out.add(new ComponentKey(Kind.TABLE, other.componentName()));
      }
    } else if (seen != null && p.key().kind().definition()) {
      contents.definition(p.key(), seen).references().forEach(r -> out.add(r.component()));
    }
    return out;
  }

  /**
   * Seals the draft; a failed check leaves it a draft with the reasons, which the problem lists
   * too.
   */
  public Version seal(Person by, String id, SemVer number, String title, String notes) {
    return seal(by, id, number, title, notes, null);
  }

  /**
   * @param asked prerequisites of the version, null for those of the version drafted from
   */
  public Version seal(
      Person by, String id, SemVer number, String title, String notes, @Nullable List<Need> asked) {
    Draft draft = open(by, id);
    if (title.isBlank()) {
      throw Problem.invalid("TITLE", "A version needs a title that says what it is for.", "/title");
    }
    if (draft.checkedAt() == null) {
      throw Problem.stopped(
          "NOT_CHECKED", id + " was not checked since its last edit.", "plenzo draft check " + id);
    }
    if (number.compareTo(draft.from()) <= 0) {
      throw Problem.invalid(
          "NUMBER",
          "The number "
              + number
              + " is not higher than "
              + draft.from()
              + ", from which it is drafted.",
          "/number");
    }
    List<VersionEntry> read = new ArrayList<>();
    Draft now = checked(draft, read);
    if (!now.problems().isEmpty()) {
      save(now);
      throw Problem.stopped(
          "DRAFT_NOT_READY",
          id + " stays a draft: " + String.join("; ", now.problems()) + ".",
          "plenzo draft show " + id);
    }
    Version parent = parent(draft);
    Map<ComponentKey, VersionEntry> entries = new TreeMap<>();
    parent.entries().forEach(e -> entries.put(e.key(), e));
    read.forEach(e -> entries.put(e.key(), e));
    now.removals().stream()
        .filter(r -> r.part().isEmpty())
        .forEach(r -> entries.remove(r.component()));
    List<VersionEntry> all = List.copyOf(entries.values());
    List<Need> needs = asked == null ? parent.needs() : asked;
    for (Need need : needs) {
      if (need.application().equals(draft.application())) {
        throw Problem.invalid("NEEDS_ITSELF", "An application does not need itself.", "/needs");
      }
    }
    String source =
        String.join(
            ", ",
            now.picks().stream()
                .map(p -> sources.said(draft.application(), p.stage(), p.site()))
                .distinct()
                .toList());
    Version version =
        new Version(
            draft.application(),
            number,
            draft.from(),
            Version.digest(all, now.removals(), needs),
            all,
            now.removals(),
            needs,
            title,
            notes,
            by.login(),
            tools.now(),
            source,
            false);
    return tools
        .keeper()
        .write(
            kept -> {
              if (kept.versions().find(version.ref()).isPresent()) {
                throw Problem.invalid(
                    "NUMBER_TAKEN", "There is already a version " + version.ref() + ".", "/number");
              }
              kept.versions().insert(version);
              if (!kept.drafts().update(now.with(Draft.State.SEALED))) {
                throw Problem.changed(
                    "CHANGED", "Somebody else changed " + id + " meanwhile.", "Look again");
              }
              boolean known =
                  kept.versions().list(Kept.Filter.application(draft.application())).stream()
                      .anyMatch(
                          v -> !v.number().equals(number) && v.digest().equals(version.digest()));
              kept.note(
                  new Event(
                      by.login(),
                      "sealed",
                      draft.application(),
                      null,
                      null,
                      number.text(),
                      null,
                      null,
                      title
                          + " ("
                          + read.size()
                          + " components taken, digest "
                          + version.digest().brief()
                          + (known ? ", the same content as an earlier version" : "")
                          + ")"),
                  tools.now());
              return version;
            });
  }
}
