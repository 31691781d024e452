package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ComponentOrder;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.impact.ColumnsOtherwise;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.object.KnownObjects;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsPolicy;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Constraint;
import plenzo.core.table.LargeObjects;
import plenzo.core.table.NeededSequences;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.Draft;
import plenzo.core.version.Need;
import plenzo.core.version.Removal;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.checking.Checks;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.Coverage;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.underway.Underway;

/**
 * One check of a draft: reads every pick anew at one instant of each place, and finds what is gone,
 * left behind, missing, or unfit. Changes no record.
 */
final class DraftCheck {
  /** Rows that are gone are listed one by one up to here; more are said as a count. */
  private static final int MOST_GONE = 1000;

  /** From here on it is proposed to split (guess: a run of this takes many minutes). */
  private static final int MANY_PICKS = 10_000;

  private static final long MANY_BYTES = 1L << 30;

  private final Contents contents;
  private final Adoption adoption;
  private final Sources sources;
  private final Checks checks;
  private final Application application;
  private final Draft draft;
  private Version parent;

  /** The same by its own names. */
  private final Version from;

  private Renaming names = Renaming.NONE;
  private final Beside beside;
  private final Underway.Progress progress;

  private final List<Finding> findings = new ArrayList<>();
  private final Map<String, Need> extensions = new TreeMap<>();
  private final DraftRenames renamed;
  private final DraftConversions conversions;
  private final List<Removal> gone = new ArrayList<>();
  private final List<Draft.LeftBehind> left = new ArrayList<>();
  private final List<Draft.Pick> picks = new ArrayList<>();
  private final List<VersionEntry> entries = new ArrayList<>();

  /** What the sources hold beside tables. */
  private final Set<ComponentKey> there = new TreeSet<>();

  DraftCheck(
      Contents contents,
      Adoption adoption,
      Renames renames,
      Sources sources,
      Checks checks,
      Application application,
      Draft draft,
      Version parent,
      Beside beside,
      Underway.Progress progress) {
    this.beside = beside;
    this.progress = progress;
    this.contents = contents;
    this.adoption = adoption;
    this.renamed =
        new DraftRenames(
            contents,
            renames,
            draft,
            new Renames.Of(draft.application(), draft.from()),
            findings::add);
    this.conversions = new DraftConversions(draft, findings::add);
    this.sources = sources;
    this.checks = checks;
    this.application = application;
    this.draft = draft;
    this.parent = parent;
    this.from = parent;
  }

  /**
   * What was done elsewhere meanwhile.
   *
   * @param newer the newest version that was made from the one the draft starts from
   * @param others open drafts of the same application
   */
  record Beside(@Nullable Version newer, List<Draft> others) {}

  /** The version drafted from, by the names that tables have where they were read. */
  Version parent() {
    return parent;
  }

  /** Tables that have another name where they were read than in the version drafted from. */
  Renaming names() {
    return names;
  }

  /** What was read of the picks, once the draft was checked. */
  List<VersionEntry> entries() {
    return entries;
  }

  /**
   * The draft as it is now.
   *
   * @param sealing whether a pick that moved since the last check is a blocker
   */
  Draft run(boolean sealing, java.time.Instant at) {
    List<String> coverage = new ArrayList<>();
    Map<SiteKey, List<Draft.Pick>> bySite = new LinkedHashMap<>();
    draft
        .picks()
        .forEach(
            p ->
                bySite
                    .computeIfAbsent(new SiteKey(p.stage(), p.site()), s -> new ArrayList<>())
                    .add(p));
    if (bySite.isEmpty()) {
      block(
          "nothing-picked",
          "draft",
          "Nothing is picked",
          "Pick components: plenzo draft add " + draft.id());
    }
    progress.of(draft.picks().size(), "components");
    bySite.forEach(
        (site, list) -> {
          try (SiteLook look = sources.open(draft.application(), site)) {
            Renaming here = renamed.of(look, parent, list);
            parent = contents.renamed(parent, here);
            names = contents.leaving(from, names.then(here));
            for (Draft.Pick p : list) {
              progress.at(p.key().toString());
              picks.add(read(look, p, site, sealing));
              progress.next();
            }
            progress.at("what else " + site + " holds");
            leftBehind(look);
            there.addAll(look.items(application.schema()).keySet());
            uncarried(look);
            extensions(look, list);
            coverage.addAll(Coverage.of(look, application.schema(), held()));
          }
        });
    conversions.requirePicked(entries);
    worksUnpicked();
    lackedAtHome();
    outdated();
    alsoInOthers();
    Map<ComponentKey, Set<ComponentKey>> needs = new HashMap<>();
    KnownObjects known = new KnownObjects(known());
    picks.forEach(p -> needs.put(p.key(), needs(contents, p, known)));
    references(needs);
    size();
    List<ComponentKey> keys = picks.stream().map(Draft.Pick::key).toList();
    List<Before> moved =
        draft.moved().stream()
            .filter(b -> keys.contains(b.first()) && keys.contains(b.then()))
            .toList();
    ComponentOrder order = ComponentOrder.of(keys, needs, moved);
    return new Draft(
        draft.id(),
        draft.application(),
        draft.from(),
        draft.state(),
        picks,
        draft.removals().stream().filter(gone::contains).toList(),
        gone,
        findings.stream()
            .sorted(java.util.Comparator.comparing(Finding::severity).thenComparing(Finding::id))
            .toList(),
        renamed.likely(),
        draft.conversions(),
        left,
        coverage,
        moved,
        order.keys(),
        order.cycles().stream().map(DraftCheck::path).toList(),
        draft.author(),
        draft.at(),
        at,
        draft.revision());
  }

  static String path(List<ComponentKey> keys) {
    return keys.stream().map(ComponentKey::toString).collect(Collectors.joining(" needs "));
  }

  private void block(String rule, String place, String sentence, String advice) {
    findings.add(Finding.of(rule, Severity.BLOCKER, place, sentence, 1, advice, null));
  }

  /** What the picks use of the source's extensions is needed where they go, no older than here. */
  private void extensions(SiteLook look, List<Draft.Pick> list) {
    if (look.findTables().isEmpty() || list.get(0).stage().equals(Sources.GIT)) {
      return;
    }
    Set<TableName> tables = new TreeSet<>(java.util.Comparator.comparing(TableName::toString));
    Set<String> used = new TreeSet<>();
    for (VersionEntry e : entries) {
      boolean here = list.stream().anyMatch(p -> p.key().equals(e.key()));
      if (here && e.key().kind() == Kind.TABLE) {
        tables.add(TableName.of(e.key().name()));
      } else if (here && e.key().kind().schemaObject()) {
        used.addAll(contents.object(e.key(), e.content()).extensions());
      }
    }
    used.addAll(look.tables().extensionsOf(tables));
    if (used.isEmpty()) {
      return;
    }
    look.tables().extensions().stream()
        .filter(e -> used.contains(e.name()))
        // names and versions that no prerequisite can say
        .filter(e -> e.name().matches("[A-Za-z0-9_-]{1,63}"))
        .filter(e -> e.version().matches("\\d[\\w.+-]{0,30}"))
        .forEach(
            e -> {
              extensions.put(e.name(), Need.ofExtension(e.name(), e.version()));
              findings.add(
                  Finding.said(
                      "uses-extension",
                      Severity.NOTE,
                      "extension/" + e.name(),
                      "What is picked uses the extension "
                          + e.name()
                          + ": the version needs it in "
                          + e.version()
                          + " or newer, as it is at the source.",
                      "Say otherwise when it is sealed: --needs \"extension/"
                          + e.name()
                          + " >="
                          + e.version()
                          + "\""));
            });
  }

  /** Extensions that the picks use, with the versions that they have at the source. */
  Collection<Need> extensions() {
    return extensions.values();
  }

  /** Which rows are picked, by the names that the columns of their key have by now. */
  private RecordsDefinition records(SiteLook look, String options) {
    RecordsDefinition picked = RecordsDefinition.of(Json.parse(options));
    return look.tables()
        .table(picked.table())
        .filter(t -> picked.key().stream().anyMatch(k -> t.structure().column(k).isEmpty()))
        .map(t -> picked.named(Renaming.ofColumns(names.columns())))
        .orElse(picked);
  }

  /** A pick with the identity that its component has in the version drafted from. */
  private Draft.Pick identified(Draft.Pick p, SiteKey site) {
    String known = parent.entry(p.key()).map(VersionEntry::uid).orElse(null);
    boolean anothers =
        known == null && parent.entries().stream().anyMatch(e -> e.uid().equals(p.uid()));
    String uid =
        known != null
            ? known
            : anothers ? sources.newUid(draft.application(), site, p.key()) : p.uid();
    return new Draft.Pick(
        p.key(),
        uid,
        p.stage(),
        p.site(),
        p.options(),
        p.reason(),
        p.seen(),
        p.rows(),
        p.changes());
  }

  private Draft.Pick read(SiteLook look, Draft.Pick picked, SiteKey site, boolean sealing) {
    Draft.Pick p = identified(picked, site);
    RecordsDefinition records = p.options() == null ? null : records(look, p.options());
    VersionEntry entry;
    OnTheWay onTheWay = new OnTheWay(parent.entry(p.key()).orElse(null), records);
    try {
      entry =
          adoption.read(
              look,
              new Adoption.Pick(p.key(), records, true),
              p.uid(),
              site.toString(),
              onTheWay::read);
    } catch (Problem e) {
      String why = String.valueOf(e.getMessage());
      block(
          "cannot-carry",
          p.key().toString(),
          why,
          e.next().isEmpty() ? "Leave it out" : e.next().get(0));
      return read(p, null, 0, why);
    }
    if (entry.key().kind() == Kind.TABLE) {
      columnsOtherwise(entry);
      entry = entry.renaming(names.renamedColumns(TableName.of(entry.key().name())));
      entry =
          conversions.converting(
              entry,
              parent.entry(entry.key()).map(e -> contents.structure(e.content())).orElse(null),
              contents.structure(entry.content()),
              names);
    }
    entries.add(entry);
    checks.check(entry.key(), entry.content(), findings::add);
    if (sealing && p.seen() != null && !p.seen().equals(entry.content())) {
      block(
          "moved",
          p.key().toString(),
          p.key() + " moved at " + site + " since the draft was checked",
          "Check it again: plenzo draft check " + draft.id());
    }
    return read(p, entry.content(), entry.rows(), under(entry, changes(look, p, entry, onTheWay)));
  }

  private void columnsOtherwise(VersionEntry table) {
    TableName name = TableName.of(table.key().name());
    parent
        .entry(table.key())
        .map(was -> was.places().named(names.columns(name)))
        .flatMap(
            was -> ColumnsOtherwise.inDraft(name, table.places(), was, parent.number().toString()))
        .ifPresent(findings::add);
  }

  /** Holds rows of a source, on their way into the draft, against those of the version before. */
  private final class OnTheWay {
    private final @Nullable VersionEntry was;
    private final @Nullable RecordsDefinition records;
    private @Nullable Counts counts;

    private OnTheWay(@Nullable VersionEntry was, @Nullable RecordsDefinition records) {
      this.was = was;
      this.records = records;
    }

    private void read(RowReader rows) {
      if (was != null && records != null && was.records().sameRows(records)) {
        counts = goneRows(was, records, rows);
      }
    }
  }

  /**
   * What the pick changes, with what is done to other rows of a site and what values are worked out
   * from, where that is said.
   */
  private String under(VersionEntry entry, String changes) {
    if (entry.key().kind() == Kind.TABLE) {
      List<String> worked = new ArrayList<>();
      entry
          .conversions()
          .forEach((column, c) -> worked.add(column + " is worked out by " + c.expression()));
      entry
          .conversionsBack()
          .forEach((column, c) -> worked.add(column + " is worked back by " + c.expression()));
      return worked.isEmpty()
          ? changes
          : changes + (changes.isEmpty() ? "" : "; ") + String.join("; ", worked);
    }
    if (entry.key().kind() != Kind.RECORDS) {
      return changes;
    }
    RowsPolicy policy = entry.policy();
    RowsPolicy was =
        parent.entry(entry.key()).map(VersionEntry::policy).orElse(RowsPolicy.ADD_AND_CHANGE);
    return policy == was && policy == RowsPolicy.ADD_AND_CHANGE
        ? changes
        : changes + (changes.isEmpty() ? "" : "; ") + policy.words();
  }

  private static Draft.Pick read(Draft.Pick p, @Nullable Digest seen, long rows, String changes) {
    return new Draft.Pick(
        p.key(), p.uid(), p.stage(), p.site(), p.options(), p.reason(), seen, rows, changes);
  }

  /** What the pick changes against the version drafted from; parts that are gone are noted. */
  private String changes(SiteLook look, Draft.Pick p, VersionEntry entry, OnTheWay onTheWay) {
    VersionEntry was = parent.entry(p.key()).orElse(null);
    if (was == null) {
      return "new";
    }
    TableName table = p.key().kind() == Kind.TABLE ? TableName.of(p.key().name()) : null;
    boolean renamed = table != null && names.touches(table);
    if (was.content().equals(entry.content())) {
      return renamed ? Sources.called(names, table, "") : "same as in " + parent.number();
    }
    if (p.key().kind().whole()) {
      return "its content changed";
    }
    if (onTheWay.counts != null) {
      return ofRows(Sources.describe(onTheWay.counts));
    }
    goneParts(look, was, entry);
    String changes =
        sources.changes(
            look.tables(),
            p.key(),
            was,
            look.tables().table(TableName.of(p.key().name())).orElseThrow(),
            names);
    return renamed
        ? Sources.called(names, table, changes)
        : table == null ? ofRows(changes) : changes;
  }

  /** Rows that stand in it by other names, or in another order, are no others. */
  private String ofRows(String changes) {
    return changes.isEmpty() ? "same rows as in " + parent.number() : changes;
  }

  /**
   * What comes from elsewhere than where the application is edited, and is not so there: the next
   * version that is made there would take it back.
   */
  private void lackedAtHome() {
    SiteKey home = sources.home(application);
    List<VersionEntry> foreign =
        entries.stream()
            .filter(e -> !e.origin().startsWith(Sources.GIT + "/"))
            .filter(e -> home == null || !e.origin().equals(home.toString()))
            .toList();
    if (foreign.isEmpty()) {
      return;
    }
    if (home == null) {
      foreign.forEach(
          e ->
              lacked(
                  e,
                  e.key()
                      + " comes from "
                      + e.origin()
                      + ". Whether "
                      + (application.repository() == null
                          ? "whoever builds its packages"
                          : "the repository")
                      + " has it so was not looked at"));
      return;
    }
    try (SiteLook look = sources.open(application.key(), home)) {
      for (VersionEntry e : foreign) {
        if (!hasSo(look, e, home)) {
          lacked(e, e.key() + " comes from " + e.origin() + ", and " + home + " has it not so");
        }
      }
    }
  }

  /** What works on a picked table at the source and would not be in the version. */
  private void worksUnpicked() {
    Set<ComponentKey> held = held();
    for (ComponentKey key : there) {
      TableName on =
          key.kind() == Kind.TRIGGER || key.kind() == Kind.POLICY ? ObjectName.of(key).on() : null;
      if (on != null && !held.contains(key) && picked(on)) {
        findings.add(
            Finding.said(
                "works-unpicked",
                Severity.RISK,
                key.toString(),
                key + " works on " + on + " at the source and is not in the version.",
                "Pick it too, or see that each site can do without it"));
      }
    }
  }

  /** A version was made from the same one since: what it brought would be left out. */
  private void outdated() {
    Version newer = beside.newer();
    if (newer == null) {
      return;
    }
    List<String> brought =
        newer.entries().stream()
            .filter(
                e ->
                    parent
                        .entry(e.key())
                        .map(was -> !was.content().equals(e.content()))
                        .orElse(true))
            .map(e -> e.key().toString())
            .toList();
    findings.add(
        Finding.of(
            "outdated-start",
            Severity.RISK,
            newer.number().text(),
            newer.number()
                + " was made from "
                + parent.number()
                + " since, and brought "
                + named(brought)
                + ", which this draft leaves out.",
            brought.size(),
            "Take it up: plenzo draft take-up " + draft.id() + " " + newer.number(),
            null));
  }

  private static String named(List<String> all) {
    int shown = Math.min(5, all.size());
    return all.isEmpty()
        ? "removals alone"
        : String.join(", ", all.subList(0, shown))
            + (all.size() > shown ? " and " + (all.size() - shown) + " more" : "");
  }

  /** A colleague works on the same component: whoever seals last brings both. */
  private void alsoInOthers() {
    for (Draft other : beside.others()) {
      List<String> same =
          other.picks().stream()
              .map(Draft.Pick::key)
              .filter(key -> draft.picks().stream().anyMatch(p -> p.key().equals(key)))
              .map(ComponentKey::toString)
              .toList();
      if (!same.isEmpty()) {
        findings.add(
            Finding.of(
                "also-in-draft",
                Severity.NOTE,
                other.id(),
                other.id() + " of " + other.author() + " holds " + named(same) + " too.",
                same.size(),
                "Ask " + other.author(),
                null));
      }
    }
  }

  private boolean hasSo(SiteLook look, VersionEntry e, SiteKey home) {
    try {
      RecordsDefinition records = e.key().kind() == Kind.RECORDS ? e.records() : null;
      return adoption
          .read(look, new Adoption.Pick(e.key(), records, true), e.uid(), home.toString())
          .content()
          .equals(e.content());
    } catch (Problem notThere) {
      return false;
    }
  }

  private void lacked(VersionEntry e, String sentence) {
    findings.add(
        Finding.said(
            "source-lacks",
            Severity.NOTE,
            e.key().toString(),
            sentence + ": the next version that is made there would take it back.",
            "Make it so there, too"));
  }

  private void goneParts(SiteLook look, VersionEntry was, VersionEntry is) {
    if (was.key().kind() == Kind.TABLE) {
      TableName table = TableName.of(is.key().name());
      TableStructure a = contents.structure(was.content());
      TableStructure b = contents.structure(is.content());
      renamed.ask(look, is.key(), names.before(table), a, b);
      a.columns().stream()
          .filter(c -> b.column(c.name()).isEmpty())
          .forEach(c -> gone.add(new Removal(was.key(), "column/" + c.name())));
      a.constraints().stream()
          .filter(c -> b.constraint(c.name()).isEmpty())
          .forEach(c -> gone.add(new Removal(was.key(), "constraint/" + c.name())));
      a.indexes().stream()
          .filter(i -> b.indexes().stream().noneMatch(x -> x.name().equals(i.name())))
          .forEach(i -> gone.add(new Removal(was.key(), "index/" + i.name())));
      a.settings().stream()
          .filter(s -> b.setting(s.name()).isEmpty())
          .forEach(s -> gone.add(new Removal(was.key(), "setting/" + s.name())));
      return;
    }
    try (RowReader rows = contents.rows(is.content(), is.records().key().size())) {
      goneRows(was, is.records(), rows);
    }
  }

  private Counts goneRows(VersionEntry was, RecordsDefinition is, RowReader rows) {
    // others go by themselves, or not at all
    boolean ticked = is.policy() == RowsPolicy.ADD_AND_CHANGE;
    try (RowReader before = contents.by(is.key(), sources.rows(was, names))) {
      return RecordsComparison.merge(
          null,
          before,
          rows,
          (then, row) -> true,
          RecordsComparison.Base.PRESENT,
          row -> {
            if (row.incoming() == null && ticked && gone.size() < MOST_GONE) {
              gone.add(new Removal(was.key(), "row/" + row.any().keyLine()));
            }
          });
    }
  }

  private void leftBehind(SiteLook look) {
    Map<ComponentKey, ItemSeen> items = look.itemsAndGrants(application.schema());
    Set<ComponentKey> picked =
        draft.picks().stream().map(Draft.Pick::key).collect(Collectors.toSet());
    for (VersionEntry e : parent.entries()) {
      if (picked.contains(e.key()) || !look.holds(e.key().kind())) {
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
        changed = now != null && changed(look, e, now);
      }
      if (!there) {
        Removal whole = new Removal(e.key(), "");
        if (!gone.contains(whole)) {
          gone.add(whole);
        }
      } else if (changed && left.stream().noneMatch(l -> l.key().equals(e.key()))) {
        left.add(new Draft.LeftBehind(e.key(), look.lastChange(e.key()).by()));
      }
    }
  }

  /** What the version would have, and what the sources hold. */
  private Set<ComponentKey> known() {
    Set<ComponentKey> out = new TreeSet<>(held());
    out.addAll(there);
    return out;
  }

  /** What the version would have. */
  private Set<ComponentKey> held() {
    Set<ComponentKey> out = new TreeSet<>();
    parent.entries().forEach(e -> out.add(e.key()));
    draft.picks().forEach(p -> out.add(p.key()));
    return out;
  }

  /** What stands at the source and is not carried; a risk where a pick depends on it. */
  private void uncarried(SiteLook look) {
    Optional<TablesLooking> tables = look.findTables();
    if (tables.isEmpty()) {
      return;
    }
    List<Uncarried> there = tables.get().uncarried(application.schema());
    TreeSet<String> others = new TreeSet<>();
    for (Uncarried u : there) {
      boolean works = u.on() != null && picked(u.on());
      if (works && u.sort().changesMeaning()) {
        findings.add(
            Finding.said(
                "not-carried",
                Severity.RISK,
                "table/" + u.on() + "#" + u.sort().word() + "/" + u.bare(),
                "The " + u.shown() + " is not carried and changes what rows mean.",
                "See that each site has it, or does not need it"));
      } else {
        others.add(u.shown());
      }
    }
    Map<ComponentKey, TableStructure> structures = new LinkedHashMap<>();
    entries.stream()
        .filter(e -> e.key().kind() == Kind.TABLE)
        .forEach(e -> structures.put(e.key(), contents.structure(e.content())));
    List<String> sequences = sequences();
    structures.forEach(
        (table, structure) ->
            NeededSequences.of(structure)
                .missing(structures.values(), sequences)
                .forEach(
                    (column, sequence) ->
                        findings.add(
                            Finding.said(
                                "not-carried",
                                Severity.RISK,
                                table + "#column/" + column,
                                "The default of "
                                    + column
                                    + " draws from the sequence "
                                    + sequence
                                    + ", which is not carried.",
                                "Create it at each site first; preparing there is blocked until then"))));
    entries.stream()
        .filter(e -> e.key().kind() == Kind.RECORDS)
        .forEach(e -> largeObjects(tables.get(), e.key()));
    if (!others.isEmpty()) {
      findings.add(
          Finding.said(
              "not-carried",
              Severity.NOTE,
              "draft",
              "At the source and not carried: " + String.join(", ", others) + ".",
              "Change them by hand where a site needs them"));
    }
  }

  /** Numbers of large objects travel with their rows, the objects do not. */
  private void largeObjects(TablesLooking tables, ComponentKey records) {
    TableName table = TableName.of(records.name());
    List<String> columns =
        tables.table(table).map(t -> LargeObjects.columns(t.structure())).orElse(List.of());
    if (!columns.isEmpty()) {
      Question.Answer a = tables.answer(Question.largeObjects(table, columns));
      findings.add(
          Finding.of(
              "large-objects",
              a.count() == 0 ? Severity.NOTE : Severity.RISK,
              records.toString(),
              LargeObjects.counted(table, columns, a.count()),
              a.count(),
              a.count() == 0 ? LargeObjects.ADVICE : LargeObjects.BRING,
              a.query()));
    }
  }

  /** Sequences that the version would have or that can be picked: of those "missing" speaks. */
  private List<String> sequences() {
    return known().stream().filter(k -> k.kind() == Kind.SEQUENCE).map(ComponentKey::name).toList();
  }

  private boolean picked(TableName table) {
    return entries.stream()
        .anyMatch(e -> !e.key().kind().whole() && TableName.of(e.key().name()).equals(table));
  }

  /** What cannot be read as it is written is not what the version has. */
  private boolean changed(SiteLook look, VersionEntry e, TableCapture now) {
    try {
      return !sources.changes(look.tables(), e.key(), e, now, names).isEmpty();
    } catch (IllegalArgumentException refused) {
      return true;
    }
  }

  /** What the picks need and the version would not hold. */
  private void references(Map<ComponentKey, Set<ComponentKey>> needs) {
    Set<ComponentKey> held = new TreeSet<>();
    parent.entries().forEach(e -> held.add(e.key()));
    picks.forEach(p -> held.add(p.key()));
    needs.forEach(
        (key, all) ->
            all.stream()
                .filter(needed -> application.owns(needed) && !held.contains(needed))
                .forEach(
                    needed ->
                        block(
                            "missing",
                            key.toString(),
                            key + " needs " + needed + ", which is not in the version",
                            "Pick it too: plenzo draft add " + draft.id() + " " + needed)));
  }

  private void size() {
    long bytes = 0;
    Map<Kind, Long> kinds = new TreeMap<>();
    for (VersionEntry e : entries) {
      bytes += contents.size(e.content());
      kinds.merge(e.key().kind(), 1L, Long::sum);
    }
    if (entries.size() > MANY_PICKS || bytes > MANY_BYTES) {
      findings.add(
          Finding.of(
              "large-draft",
              Severity.NOTE,
              "draft",
              "It takes "
                  + entries.size()
                  + " components with "
                  + (bytes >> 20)
                  + " MB: "
                  + kinds.entrySet().stream()
                      .map(e -> e.getValue() + " " + e.getKey().code())
                      .collect(Collectors.joining(", "))
                  + ".",
              entries.size(),
              "Seal one version a kind, so that each run is short",
              null));
    }
  }

  /**
   * What the picked content refers to.
   *
   * @param known among which names in a table are looked up
   */
  static Set<ComponentKey> needs(Contents contents, Draft.Pick p, KnownObjects known) {
    Set<ComponentKey> out = new TreeSet<>();
    Digest seen = p.seen();
    if (p.key().kind() == Kind.RECORDS) {
      out.add(new ComponentKey(Kind.TABLE, p.key().name()));
    } else if (seen != null && p.key().kind() == Kind.TABLE) {
      for (Constraint k : contents.structure(seen).foreignKeys()) {
        TableName other = Objects.requireNonNull(k.references());
        out.add(new ComponentKey(Kind.TABLE, other.componentName()));
      }
      contents.structure(seen).inherits().stream()
          .map(above -> new ComponentKey(Kind.TABLE, above.componentName()))
          .forEach(out::add);
      known.needs(
          contents.structure(seen),
          TableName.of(p.key().name()).schema(),
          (part, needed) -> out.add(needed));
    } else if (seen != null && p.key().kind().schemaObject()) {
      contents.object(p.key(), seen).needs().forEach(n -> out.add(n.component()));
    } else if (seen != null && p.key().kind().definition()) {
      contents.definition(p.key(), seen).references().forEach(r -> out.add(r.component()));
    }
    return out;
  }
}
