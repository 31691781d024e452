package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ComponentOrder;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.manual.ManualStep;
import plenzo.core.object.KnownObjects;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.Ancestry;
import plenzo.core.version.Draft;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.StatedConversion;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.checking.Checks;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.Retiring;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.underway.Work;

/** Collects components into a draft and seals it as a version. */
public final class Drafts {
  /** Drafts of colleagues that are looked through (guess: older open ones are forgotten ones). */
  private static final int DRAFTS = 200;

  private static Finding nothingPicked(String id) {
    return Finding.of(
        "nothing-picked",
        Finding.Severity.BLOCKER,
        "draft",
        "Nothing picked yet",
        1,
        "Pick components: plenzo draft add " + id,
        null);
  }

  private final Tools tools;
  private final Contents contents;
  private final Adoption adoption;
  private final Renames renames;
  private final Sources sources;
  private final Checks checks;
  private final @Nullable Integer seen;

  public Drafts(
      Tools tools,
      Contents contents,
      Adoption adoption,
      Renames renames,
      Sources sources,
      Checks checks) {
    this(tools, contents, adoption, renames, sources, checks, null);
  }

  private Drafts(
      Tools tools,
      Contents contents,
      Adoption adoption,
      Renames renames,
      Sources sources,
      Checks checks,
      @Nullable Integer seen) {
    this.seen = seen;
    this.renames = renames;
    this.checks = checks;
    this.tools = tools;
    this.contents = contents;
    this.adoption = adoption;
    this.sources = sources;
  }

  /**
   * For one edit of a draft that was looked at: it is refused when the draft is another by now.
   *
   * @param revision that was looked at, null when nobody looked
   */
  public Drafts seen(@Nullable Integer revision) {
    return new Drafts(tools, contents, adoption, renames, sources, checks, revision);
  }

  /** Those that the person may see, newest first. */
  public Slice<Draft> list(Person by, Kept.Filter filter) {
    Sight sight = Sight.of(by, Right.LOOK).ofAnyStage();
    return tools.keeper().read(kept -> kept.drafts().slice(filter, sight));
  }

  public Draft get(Person by, String id) {
    return tools
        .keeper()
        .read(kept -> kept.drafts().find(id))
        .filter(d -> by.may(Right.LOOK, Person.ANY, d.application()))
        .orElseThrow(() -> Problem.notFound("draft", id));
  }

  public Draft start(Person by, String application, @Nullable SemVer from) {
    Rights.require(by, Right.AUTHOR, Person.ANY, application);
    return tools
        .keeper()
        .write(
            kept -> {
              Retiring.requireInUse(kept, application);
              SemVer start = from != null ? from : newest(kept, application);
              kept.versions()
                  .head(application + "@" + start)
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
                      List.of(nothingPicked(id)),
                      List.of(),
                      List.of(),
                      List.of(),
                      List.of(),
                      List.of(),
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

  /**
   * Begins a draft of what a site holds otherwise than it is recorded there: from the version that
   * is recorded, with the components as the site has them.
   *
   * @throws Problem when nothing is recorded there, or one of them cannot be taken; nothing is
   *     begun then
   */
  public Draft takeFrom(Person by, String application, SiteKey site, Set<ComponentKey> keys) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    Rights.require(by, Right.AUTHOR, Person.ANY, application);
    SiteRecord record =
        tools
            .keeper()
            .read(kept -> kept.sites().find(application + "@" + site))
            .filter(r -> r.present() != null)
            .orElseThrow(() -> Problem.notFound("record", application + "@" + site));
    if (keys.isEmpty()) {
      throw Problem.invalid("PLACES", "Name what is taken.", "/places");
    }
    Draft begun = start(by, application, record.present());
    Version parent = parent(begun);
    List<Adoption.Pick> picks =
        keys.stream()
            .map(
                key ->
                    new Adoption.Pick(
                        key,
                        key.kind() != Kind.RECORDS
                            ? null
                            : parent.entry(key).map(VersionEntry::records).orElse(null),
                        /* generatedKeyConfirmed= */ true))
            .toList();
    try {
      add(by, begun.id(), site, picks);
      return check(by, begun.id());
    } catch (RuntimeException e) {
      discard(by, begun.id());
      throw e;
    }
  }

  /** The number that is proposed: the next minor one, or the next free patch where it is taken. */
  public SemVer proposed(Draft draft) {
    Set<SemVer> taken =
        tools.keeper().read(kept -> kept.versions().list(draft.application())).stream()
            .map(VersionHead::number)
            .collect(Collectors.toSet());
    SemVer next = draft.from().nextMinor();
    SemVer patch = draft.from();
    while (taken.contains(next)) {
      patch = patch.nextPatch();
      next = patch;
    }
    return next;
  }

  private static SemVer newest(Kept kept, String application) {
    return kept.versions().list(application).stream()
        .map(VersionHead::number)
        .max(java.util.Comparator.naturalOrder())
        .orElseThrow(
            () ->
                Problem.stopped(
                    "NO_VERSION",
                    application + " has no version yet.",
                    "Adopt what a site holds first"));
  }

  private Application application(String key) {
    return tools.keeper().read(kept -> kept.application(key));
  }

  private Version parent(Draft draft) {
    return tools
        .keeper()
        .read(kept -> kept.versions().find(draft.application() + "@" + draft.from()))
        .orElseThrow();
  }

  /** Adds components from a site together with what they need, each with its reason. */
  public Draft add(Person by, String id, SiteKey site, List<Adoption.Pick> asked) {
    return add(by, id, site, asked, /* whatCanBe= */ false).draft();
  }

  /**
   * A draft with what was added.
   *
   * @param notTaken what could not be, each with its reason
   */
  public record Added(Draft draft, List<String> notTaken) {}

  /**
   * The same.
   *
   * @param whatCanBe takes what can be taken and lists the rest; else nothing is taken when one
   *     cannot be
   */
  public Added add(
      Person by, String id, SiteKey site, List<Adoption.Pick> asked, boolean whatCanBe) {
    List<String> notTaken = new ArrayList<>();
    Draft draft = open(by, id);
    Rights.require(by, Right.LOOK, Sources.stage(site), draft.application());
    Version parent = parent(draft);
    Map<ComponentKey, Draft.Pick> picks = new TreeMap<>();
    draft.picks().forEach(p -> picks.put(p.key(), p));
    String space = application(draft.application()).schema();
    try (SiteLook look = sources.open(draft.application(), site)) {
      Closure closure = closure(look, site, draft, parent, space, picks);
      for (Adoption.Pick pick : asked) {
        Map<ComponentKey, Draft.Pick> before = new TreeMap<>(picks);
        try {
          closure.pick(pick, Closure.CHOSEN);
        } catch (Problem e) {
          if (!whatCanBe) {
            throw e;
          }
          picks.clear();
          picks.putAll(before);
          notTaken.add(pick.key() + ": " + e.getMessage());
        }
      }
    }
    return new Added(save(draft.withPicks(List.copyOf(picks.values()))), notTaken);
  }

  private Closure closure(
      SiteLook look,
      SiteKey site,
      Draft draft,
      Version parent,
      String space,
      Map<ComponentKey, Draft.Pick> picks) {
    Renaming names = sources.renamed(look, parent, draft.renames());
    return new Closure(sources, look, site, contents.renamed(parent, names), names, space, picks);
  }

  /**
   * Begins from a newer version that was made from the one it starts from: what that version
   * brought is part of it from now on.
   */
  public Draft takeUp(Person by, String id, SemVer newer) {
    Draft draft = open(by, id);
    boolean follows =
        !newer.equals(draft.from())
            && new Ancestry(tools.keeper().read(kept -> kept.versions().list(draft.application())))
                .descends(newer, draft.from());
    if (!follows) {
      throw Problem.invalid(
          "NOT_NEWER", newer + " was not made from " + draft.from() + ".", "/version");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.drafts().update(draft.startingFrom(newer))) {
                throw Problem.changedMeanwhile(draft.id());
              }
              note(kept, by, draft, "draft takes up", id + " begins from " + newer);
              return kept.drafts().find(draft.id()).orElseThrow();
            });
  }

  private void note(Kept kept, Person by, Draft draft, String what, String text) {
    kept.note(
        new Event(
            by.login(),
            what,
            draft.application(),
            null,
            null,
            draft.from().text(),
            null,
            null,
            text),
        tools.now());
  }

  /** Drops a component together with what was brought along for it alone. */
  public Draft drop(Person by, String id, ComponentKey key) {
    Draft draft = open(by, id);
    return save(draft.withPicks(without(draft, key)));
  }

  /**
   * What would become of the picks when one is dropped.
   *
   * @param goes what goes with it, for nothing else needs it; without the component itself
   * @param neededBy what needs it, so that it stays; empty when it goes
   */
  public record Dropping(List<Draft.Pick> goes, String neededBy) {}

  /** What dropping a component would take along; changes nothing. */
  public Dropping dropping(Person by, String id, ComponentKey key) {
    Draft draft = open(by, id);
    Map<ComponentKey, Draft.Pick> after = new TreeMap<>();
    without(draft, key).forEach(p -> after.put(p.key(), p));
    Draft.Pick stays = after.get(key);
    return new Dropping(
        draft.picks().stream()
            .filter(p -> !p.key().equals(key) && !after.containsKey(p.key()))
            .toList(),
        stays == null ? "" : stays.reason());
  }

  /** What is picked without a component, and without what was brought along for it alone. */
  private List<Draft.Pick> without(Draft draft, ComponentKey key) {
    if (draft.picks().stream().noneMatch(p -> p.key().equals(key))) {
      throw Problem.notFound("pick of " + draft.id(), key.toString());
    }
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
            Closure closure = closure(look, site, draft, parent, space, picks);
            for (Draft.Pick p : list) {
              RecordsDefinition records =
                  p.options() == null ? null : RecordsDefinition.of(Json.parse(p.options()));
              closure.pick(new Adoption.Pick(p.key(), records, true), Closure.CHOSEN);
            }
          }
        });
    return List.copyOf(picks.values());
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

  private static Problem notAsked(String id, LikelyRename pair) {
    return Problem.invalid(
        "NOT_ASKED",
        "Whether "
            + pair.was()
            + (pair.ofTable() ? "" : " of " + pair.component())
            + " became "
            + pair.is()
            + " is not asked in "
            + id
            + ".",
        "/was");
  }

  /** A person's word that what is gone and what is new are two, not one renamed. */
  public Draft twoColumns(Person by, String id, ComponentKey key, String was, String is) {
    Draft draft = open(by, id);
    LikelyRename pair = new LikelyRename(key, was, is, true);
    if (draft.renames().stream().noneMatch(pair::samePair)) {
      throw notAsked(id, pair);
    }
    return save(
        draft.withRenames(draft.renames().stream().map(r -> r.samePair(pair) ? pair : r).toList()));
  }

  /**
   * A person's word that what is gone, or has a name that another took, and what is new are one:
   * its values go with it.
   */
  public Draft renamed(Person by, String id, ComponentKey key, String was, String is) {
    Draft draft = open(by, id);
    LikelyRename pair = new LikelyRename(key, was, is, false).same();
    if (draft.renames().stream().anyMatch(r -> r.isOne() && !r.samePair(pair) && r.touches(pair))) {
      throw Problem.invalid(
          "RENAMED_ALREADY",
          pair.ofTable()
              ? was + " or " + is + " is one with another table already."
              : was + " or " + is + " of " + key + " is one with another column already.",
          "/was");
    }
    List<LikelyRename> next = new ArrayList<>(draft.renames());
    if (!next.removeIf(pair::samePair)) {
      new StatedRename(sources, renames, draft, parent(draft)).requireFits(pair);
    }
    next.add(pair);
    return save(draft.withPicks(toldBy(draft, pair)).withRenames(next));
  }

  /** Picks of rows by the name that their table, or a column that tells them apart, has by now. */
  private static List<Draft.Pick> toldBy(Draft draft, LikelyRename pair) {
    TableName is = TableName.of(pair.component().name());
    TableName was = pair.ofTable() ? TableName.of(ComponentKey.of(pair.was()).name()) : is;
    Renaming names =
        pair.ofTable()
            ? new Renaming(Map.of(was, is), Map.of())
            : Renaming.ofColumns(Map.of(is, Map.of(pair.was(), pair.is())));
    ComponentKey records = new ComponentKey(Kind.RECORDS, was.componentName());
    Map<ComponentKey, Draft.Pick> out = new LinkedHashMap<>();
    draft.picks().stream().filter(p -> !p.key().equals(records)).forEach(p -> out.put(p.key(), p));
    draft.picks().stream()
        .filter(p -> p.key().equals(records))
        .map(p -> p.named(names))
        .forEach(p -> out.putIfAbsent(p.key(), p));
    return List.copyOf(out.values());
  }

  /**
   * A person's word on what the values of a column are worked out from, where it is new or gets
   * another type; what was said of the column before is forgotten.
   *
   * @param expression SQL over the columns of the other side; null to say nothing any more
   * @param back whether it is for going back to the version drafted from
   */
  public Draft convert(
      Person by,
      String id,
      ComponentKey table,
      String column,
      @Nullable String expression,
      boolean back) {
    Draft draft = open(by, id);
    if (table.kind() != Kind.TABLE
        || draft.picks().stream().noneMatch(p -> p.key().equals(table))) {
      throw Problem.invalid(
          "NOT_PICKED",
          table + " is no table that is picked in " + id + ": take it first.",
          "/component");
    }
    List<StatedConversion> next = new ArrayList<>(draft.conversions());
    StatedConversion stated = new StatedConversion(table, column, checked(expression), back);
    boolean known = next.removeIf(stated::sameColumn);
    if (expression != null) {
      next.add(stated);
    } else if (!known) {
      throw Problem.notFound("conversion of " + table + " in " + id, column);
    }
    return save(draft.withConversions(next));
  }

  private static String checked(@Nullable String expression) {
    try {
      return expression == null ? "" : Conversion.checked(expression);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("EXPRESSION", e.getMessage() + ".", "/expression");
    }
  }

  /**
   * What was sealed is how these tables are known at their source from now on; of a source that
   * cannot be looked at by now, what was remembered with an earlier version tells as much.
   */
  private void remember(Draft draft, SemVer number) {
    Map<SiteKey, List<TableName>> tables = new LinkedHashMap<>();
    draft.picks().stream()
        .filter(p -> p.key().kind() == Kind.TABLE && !p.stage().equals(Sources.GIT))
        .forEach(
            p ->
                tables
                    .computeIfAbsent(new SiteKey(p.stage(), p.site()), s -> new ArrayList<>())
                    .add(TableName.of(p.key().name())));
    tables.forEach(
        (site, names) -> {
          try (SiteLook look = sources.open(draft.application(), site)) {
            renames.remember(new Renames.Of(draft.application(), number), look.tables(), names);
          } catch (TargetFailed e) {
            System.getLogger(Drafts.class.getName())
                .log(System.Logger.Level.INFO, "Tables of {0} are not remembered: {1}", site, e);
          }
        });
  }

  /** Throws it away for good; sources, versions and stages stay as they are. */
  public Draft discard(Person by, String id) {
    Draft draft = open(by, id);
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.drafts().update(draft.with(Draft.State.DISCARDED))) {
                throw Problem.changedMeanwhile(draft.id());
              }
              note(
                  kept,
                  by,
                  draft,
                  "draft discarded",
                  id + " with " + Words.count(draft.picks().size(), "pick"));
              return kept.drafts().find(draft.id()).orElseThrow();
            });
  }

  private Draft open(Person by, String id) {
    Draft draft = get(by, id);
    Rights.require(by, Right.AUTHOR, Person.ANY, draft.application());
    if (draft.state() != Draft.State.OPEN) {
      throw Problem.stopped(
          "DRAFT_CLOSED",
          id + " is " + draft.state().name().toLowerCase(java.util.Locale.ROOT) + ".",
          "Start another draft");
    }
    Problem.requireSeen(seen, draft.revision(), id);
    return draft;
  }

  private Draft save(Draft draft) {
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.drafts().update(draft)) {
                throw Problem.changedMeanwhile(draft.id());
              }
              return kept.drafts().find(draft.id()).orElseThrow();
            });
  }

  /** Reads every pick anew at one instant and says what stands in the way of sealing. */
  public Draft check(Person by, String id) {
    Draft draft = open(by, id);
    return tools
        .underway()
        .during(
            Work.Act.CHECK,
            by.login(),
            "draft/" + id,
            draft.application(),
            () -> save(checking(draft).run(/* sealing= */ false, tools.now())));
  }

  private DraftCheck checking(Draft draft) {
    return new DraftCheck(
        contents,
        adoption,
        renames,
        sources,
        checks,
        application(draft.application()),
        draft,
        parent(draft),
        beside(draft),
        tools.underway().now());
  }

  /** What was done elsewhere meanwhile: newer versions, and drafts of colleagues. */
  private DraftCheck.Beside beside(Draft draft) {
    List<VersionHead> heads =
        tools.keeper().read(kept -> kept.versions().list(draft.application()));
    Ancestry ancestry = new Ancestry(heads);
    Version newer =
        heads.stream()
            .filter(v -> !v.withdrawn() && !v.number().equals(draft.from()))
            .filter(v -> ancestry.descends(v.number(), draft.from()))
            .max(java.util.Comparator.comparing(VersionHead::number))
            .map(v -> tools.keeper().read(k -> k.versions().get(v.application(), v.number())))
            .orElse(null);
    Kept.Filter newest = new Kept.Filter(draft.application(), null, null, List.of(), 0, DRAFTS);
    List<Draft> others =
        tools.keeper().read(kept -> kept.drafts().list(newest)).stream()
            .filter(d -> d.state() == Draft.State.OPEN && !d.id().equals(draft.id()))
            .toList();
    return new DraftCheck.Beside(newer, others);
  }

  /**
   * Writes one picked component before another, within what needs allow; words to the contrary
   * fall.
   */
  public Draft move(Person by, String id, Before asked) {
    Draft draft = open(by, id);
    for (ComponentKey key : List.of(asked.first(), asked.then())) {
      if (draft.picks().stream().noneMatch(p -> p.key().equals(key))) {
        throw Problem.invalid(
            "NOT_PICKED", key + " is not among the picks of " + id + ".", "/component");
      }
    }
    if (draft.checkedAt() == null) {
      throw Problem.stopped(
          "NOT_CHECKED",
          "What needs what is known once " + id + " is checked.",
          "plenzo draft check " + id);
    }
    Map<ComponentKey, Set<ComponentKey>> needs = new TreeMap<>();
    KnownObjects known = new KnownObjects(draft.picks().stream().map(Draft.Pick::key).toList());
    draft.picks().forEach(p -> needs.put(p.key(), DraftCheck.needs(contents, p, known)));
    List<Before> moved = new ArrayList<>(draft.moved());
    moved.removeIf(
        b -> b.equals(asked) || b.first().equals(asked.then()) && b.then().equals(asked.first()));
    moved.forEach(b -> needs.computeIfAbsent(b.then(), k -> new TreeSet<>()).add(b.first()));
    List<ComponentKey> path = ComponentOrder.path(asked.first(), asked.then(), needs);
    if (!path.isEmpty()) {
      throw Problem.stopped(
          "NEEDED_FIRST",
          asked.first()
              + " cannot be written before "
              + asked.then()
              + ": "
              + DraftCheck.path(path)
              + ".");
    }
    moved.add(asked);
    ComponentOrder order =
        ComponentOrder.of(draft.picks().stream().map(Draft.Pick::key).toList(), needs, moved);
    return save(draft.withMoved(moved, order.keys()));
  }

  /**
   * What is said of a version when it is sealed.
   *
   * @param needs prerequisites, null for those of the version drafted from
   * @param tasks what it was done for
   * @param manual what people do when it comes to a site
   */
  public record Statement(
      SemVer number,
      String title,
      String notes,
      @Nullable List<Need> needs,
      List<String> tasks,
      List<ManualStep> manual) {
    public Statement(
        SemVer number, String title, String notes, @Nullable List<Need> needs, List<String> tasks) {
      this(number, title, notes, needs, tasks, List.of());
    }
  }

  /**
   * What is said, or what the version drafted from needs; with the extensions that the picks use,
   * where nothing is said of them.
   */
  private static List<Need> needs(Version parent, Statement said, DraftCheck checked) {
    List<Need> out = new ArrayList<>(said.needs() == null ? parent.needs() : said.needs());
    for (Need used : checked.extensions()) {
      boolean told =
          out.stream().anyMatch(n -> n.application().equals(used.application()))
              && said.needs() != null;
      if (!told) {
        out.removeIf(n -> n.application().equals(used.application()));
        out.add(used);
      }
    }
    return out;
  }

  /** What a checked draft becomes; nothing is kept. */
  private Version made(Draft now, DraftCheck checked, Statement said, String author) {
    Version parent = checked.parent();
    Map<ComponentKey, VersionEntry> entries = new TreeMap<>();
    parent.entries().forEach(e -> entries.put(e.key(), e));
    checked.entries().forEach(e -> entries.put(e.key(), e));
    now.removals().stream()
        .filter(r -> r.part().isEmpty())
        .forEach(r -> entries.remove(r.component()));
    entries.keySet().removeIf(Renaming::isGoing); // with its table
    List<VersionEntry> all = List.copyOf(entries.values());
    List<Need> needs = needs(parent, said, checked);
    for (Need need : needs) {
      if (need.application().equals(now.application())) {
        throw Problem.invalid("NEEDS_ITSELF", "An application does not need itself.", "/needs");
      }
    }
    List<Before> order = order(checked, entries.keySet(), now.moved());
    String source =
        String.join(
            ", ",
            now.picks().stream()
                .map(p -> sources.said(now.application(), p.stage(), p.site()))
                .distinct()
                .toList());
    return Version.of(
        now.application(),
        said.number(),
        now.from(),
        all,
        now.removals(),
        needs,
        order,
        said.manual(),
        said.title(),
        said.notes(),
        said.tasks(),
        author,
        tools.now(),
        source);
  }

  /**
   * What sealing would make of a draft as its sources are now. Nothing is kept of it; it stays a
   * draft.
   *
   * @throws Problem when something stands in the way of sealing it
   */
  public Version trial(Person by, String id) {
    Draft draft = open(by, id);
    DraftCheck checking = checking(draft);
    Draft now = checking.run(/* sealing= */ true, tools.now());
    if (!now.problems().isEmpty()) {
      throw Problem.stopped(
          "DRAFT_NOT_READY",
          id + " cannot be sealed, and so not be tried: " + String.join("; ", now.problems()) + ".",
          "plenzo draft show " + id);
    }
    Statement said =
        new Statement(proposed(draft), "Trial of " + id, "", /* needs= */ null, List.of());
    return made(now, checking, said, by.login());
  }

  /**
   * Seals the draft; a failed check leaves it a draft with the reasons, which the problem lists
   * too.
   */
  public Version seal(Person by, String id, Statement said) {
    return tools
        .underway()
        .during(
            Work.Act.SEAL,
            by.login(),
            "draft/" + id,
            get(by, id).application(),
            () -> seal(by, id, said, by.login()));
  }

  /**
   * @param author who made what is in it, when that is not who seals it
   */
  Version seal(Person by, String id, Statement said, String author) {
    SemVer number = said.number();
    String title = said.title();
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
    DraftCheck checking = checking(draft);
    Draft now = checking.run(/* sealing= */ true, tools.now());
    if (!now.problems().isEmpty()) {
      save(now);
      throw Problem.stopped(
          "DRAFT_NOT_READY",
          id + " stays a draft: " + String.join("; ", now.problems()) + ".",
          "plenzo draft show " + id);
    }
    Version version = made(now, checking, said, author).covering(now.coverage());
    Version sealed =
        version.written(
            sources.written(
                draft.application(),
                now.picks().stream().map(p -> new SiteKey(p.stage(), p.site())).distinct().toList(),
                checking.parent().head()));
    Version done =
        tools
            .keeper()
            .write(
                kept -> {
                  if (kept.versions().head(version.ref()).isPresent()) {
                    throw Problem.invalid(
                        "NUMBER_TAKEN",
                        "There is already a version " + version.ref() + ".",
                        "/number");
                  }
                  kept.versions().insert(sealed);
                  if (!kept.drafts().update(now.with(Draft.State.SEALED))) {
                    throw Problem.changedMeanwhile(id);
                  }
                  boolean known =
                      kept.versions().list(draft.application()).stream()
                          .anyMatch(
                              v ->
                                  !v.number().equals(number)
                                      && v.digest().equals(version.digest()));
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
                              + Words.count(now.picks().size(), "component")
                              + " taken, digest "
                              + version.digest().brief()
                              + (known ? ", the same content as an earlier version" : "")
                              + ")"),
                      tools.now());
                  return sealed;
                });
    remember(now, number);
    return done;
  }

  /** What was moved in the version drafted from, and now; the later word counts. */
  private static List<Before> order(
      DraftCheck checked, Set<ComponentKey> held, List<Before> moved) {
    Set<Before> out = new TreeSet<>(moved);
    Renaming names = checked.names();
    checked.parent().order().stream()
        .map(b -> new Before(names.named(b.first()), names.named(b.then())))
        .filter(b -> !moved.contains(new Before(b.then(), b.first())))
        .forEach(out::add);
    return out.stream().filter(b -> held.contains(b.first()) && held.contains(b.then())).toList();
  }
}
