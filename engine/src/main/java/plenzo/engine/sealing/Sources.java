package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RenamedRows;
import plenzo.core.records.RowReader;
import plenzo.core.source.Commits;
import plenzo.core.source.RefusedDocument;
import plenzo.core.source.Repository;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.LastChange;
import plenzo.core.target.Looking;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.version.VersionHead;
import plenzo.core.version.Written;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.setup.Applications;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.RowKeys;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** What an editing stage, or another site, holds against a version. */
public final class Sources {
  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Renames renames;

  /** More commits than this between two versions are not looked at (guess). */
  private static final int MOST_COMMITS = 20_000;

  private final Commits commits;

  public Sources(
      Tools tools, Targets targets, Contents contents, Commits commits, Renames renames) {
    this.renames = renames;
    this.commits = commits;
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
  }

  /**
   * Tables of a version and columns of them that have another name at a source, and that a version
   * can give it; with those that go because another takes their name.
   *
   * @param said what people said of tables of a draft
   */
  Renaming renamed(SiteLook look, Version version, List<LikelyRename> said) {
    return look.findTables()
        .map(
            there -> {
              Renames.Known known = renames.at(of(version), there);
              return renamed(
                  known,
                  version,
                  known.tables(version, said),
                  (table, is, columns) ->
                      Renaming.atHand(said(said, is, columns), c -> has(table, c), c -> true));
            })
        .orElse(Renaming.NONE);
  }

  private static Renames.Of of(Version version) {
    return new Renames.Of(version.application(), version.number());
  }

  /** What numbers tell of a table's columns, and what people said of them. */
  private static Map<String, String> said(
      List<LikelyRename> all, TableName table, Map<String, String> told) {
    Map<String, String> out = new TreeMap<>(told);
    for (LikelyRename r : all) {
      if (!r.ofTable() && r.component().name().equals(table.componentName())) {
        if (r.denied()) {
          out.remove(r.was(), r.is());
        } else if (r.isOne()) {
          out.put(r.was(), r.is());
        }
      }
    }
    return out;
  }

  private boolean has(VersionEntry table, String column) {
    return structure(table).column(column).isPresent();
  }

  /** Tables of a version and columns of them that have another name at a source. */
  Renaming renamed(SiteLook look, Version version) {
    return look.findTables()
        .map(there -> renames.at(of(version), there))
        .map(
            known ->
                renamed(
                    known,
                    version,
                    known.tables(version, List.of()),
                    (t, is, all) -> Renaming.leaving(all, c -> has(t, c))))
        .orElse(Renaming.NONE);
  }

  /** Which columns of a table that have another name count. */
  private interface Some {
    Map<String, String> of(VersionEntry table, TableName is, Map<String, String> told);
  }

  private static Renaming renamed(
      Renames.Known known, Version version, Renaming tables, Some some) {
    Map<TableName, Map<String, String>> columns = new LinkedHashMap<>();
    for (VersionEntry e : version.entries()) {
      if (e.key().kind() == Kind.TABLE) {
        TableName was = TableName.of(e.key().name());
        TableName is = tables.named(was);
        columns.put(is, some.of(e, is, known.columns(was, is)));
      }
    }
    return known.taking(new Renaming(tables.tables(), columns));
  }

  /** Rows of a version by the names that their columns have at a source. */
  RowReader rows(VersionEntry records, Renaming names) {
    RowReader rows = contents.rows(records.content(), records.records().key().size());
    return RenamedRows.of(rows, names.columns(records.records().table()));
  }

  /** The place of a commit among sites: "git/" and its full hash. */
  public static final String GIT = "git";

  /**
   * Where an application is edited: the first site of its path's source. Null where that is a
   * repository, where versions come as packages alone, or the source has no site.
   */
  @Nullable SiteKey home(Application a) {
    if (a.repository() != null) {
      return null;
    }
    String stage = tools.keeper().read(kept -> kept.paths().find(a.path())).orElseThrow().source();
    if (stage == null) {
      return null;
    }
    return tools.keeper().read(kept -> kept.stages().find(stage)).stream()
        .flatMap(s -> s.sites().stream())
        .findFirst()
        .map(site -> new SiteKey(stage, site.key()))
        .orElse(null);
  }

  /** Where a right is asked for that place; a repository is the application's at every stage. */
  static String stage(SiteKey place) {
    return place.stage().equals(GIT) ? Person.ANY : place.stage();
  }

  /** The repository that an application's documents are kept in. */
  private Repository repository(String application) {
    Repository repository = tools.keeper().read(kept -> kept.application(application)).repository();
    if (repository == null) {
      throw Problem.stopped(
          "NO_REPOSITORY",
          application + " has no repository.",
          "plenzo app repository " + application + " --address …");
    }
    String refusal = targets.refusal(repository);
    if (refusal != null) {
      throw Problem.stopped("DESTINATION", refusal);
    }
    return repository;
  }

  private String secret(String application) {
    String id = "repository/" + application;
    return tools
        .keeper()
        .read(kept -> kept.secrets().find(id))
        .map(s -> tools.vault().decrypt(id, s.cipher()))
        .orElse("");
  }

  /** The commit that a branch, tag or hash names; the repository's branch when none is named. */
  public Commits.Commit commit(Person by, String application, @Nullable String revision) {
    Rights.require(by, Right.LOOK, Person.ANY, application);
    Repository repository = repository(application);
    try {
      return commits.resolve(
          repository, secret(application), revision == null ? repository.branch() : revision);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("NO_COMMIT", e.getMessage() + ".", "/revision");
    }
  }

  /** Every tag of the application's repository with its commit. */
  void tags(Person by, String application, BiConsumer<String, Commits.Commit> sink) {
    Rights.require(by, Right.LOOK, Person.ANY, application);
    commits.tags(repository(application), secret(application), sink);
  }

  /**
   * Who wrote what is taken from commits, since the nearest version before that was taken from the
   * repository too; all of its past where there is none.
   *
   * @param places sites and commits that are taken from
   * @param parent the version that it is drafted from
   */
  Written written(String application, List<SiteKey> places, VersionHead parent) {
    List<String> hashes =
        places.stream().filter(p -> p.stage().equals(GIT)).map(SiteKey::site).distinct().toList();
    if (hashes.isEmpty()) {
      return Written.NOTHING;
    }
    List<String> since = commitsBefore(parent);
    Set<String> authors = new TreeSet<>();
    boolean whole = true;
    for (String hash : hashes) {
      whole &=
          commits.authors(
              repository(application),
              secret(application),
              hash,
              since,
              MOST_COMMITS,
              authors::add);
    }
    return new Written(hashes, List.copyOf(authors), whole);
  }

  private List<String> commitsBefore(VersionHead parent) {
    return tools
        .keeper()
        .read(
            kept -> {
              VersionHead at = parent;
              while (at.written().commits().isEmpty()) {
                SemVer before = at.parent();
                VersionHead next =
                    before == null
                        ? null
                        : kept.versions().head(at.application() + "@" + before).orElse(null);
                if (next == null) {
                  return List.<String>of();
                }
                at = next;
              }
              return at.written().commits();
            });
  }

  /** Looks at a site, or at a commit of the application's repository. */
  SiteLook open(String application, SiteKey place) {
    if (!place.stage().equals(GIT)) {
      return targets.look(place);
    }
    try {
      return new SiteLook(
          "The commit " + place.site().substring(0, Math.min(12, place.site().length())),
          spaced(commits.look(repository(application), secret(application), place.site())));
    } catch (IllegalArgumentException e) {
      throw Problem.stopped(
          "DOCUMENTS", e.getMessage() + ".", "Correct it in the repository, and commit");
    }
  }

  private Map<Holder, Looking> spaced(Map<Holder, Looking> looks) {
    Map<Holder, Looking> out = new LinkedHashMap<>();
    looks.forEach((holder, look) -> out.put(holder, targets.spaced(look)));
    return out;
  }

  /** What a version's source is called: a commit with its repository, or a site. */
  String said(String application, String stage, String site) {
    return stage.equals(GIT)
        ? repository(application).address() + " at " + site
        : stage + "/" + site;
  }

  /**
   * Identity of a component that is new: the same for the same component of the same application.
   */
  String newUid(String application, SiteKey place, ComponentKey key) {
    if (!place.stage().equals(GIT)) {
      return tools.newId();
    }
    String id =
        tools.keeper().read(kept -> kept.applications().find(application)).orElseThrow().id();
    return Digest.of(id + "\n" + key).hex().substring(0, 32);
  }

  /**
   * A component at the source, against a version.
   *
   * @param state new, changed, same or gone
   * @param last who changed it there last and when, as far as the source tells
   * @param uid empty when it is in no version yet
   */
  public record SourceComponent(
      ComponentKey key, String state, String changes, String problem, LastChange last, String uid) {
    SourceComponent(ComponentKey key, String state, String changes, String problem) {
      this(key, state, changes, problem, LastChange.UNKNOWN, "");
    }

    /** The same with the name that its table had in the version. */
    SourceComponent called(Renaming names) {
      TableName table = TableName.of(key.name());
      if (key.kind() != Kind.TABLE || Renaming.isGoing(key) || !names.touches(table)) {
        return this;
      }
      return new SourceComponent(
          key, "changed", Sources.called(names, table, changes), problem, last, uid);
    }

    SourceComponent known(LastChange change, String as) {
      return new SourceComponent(key, state, changes, problem, change, as);
    }

    /** One that is there and cannot be read: one trouble of its own, whatever else is there. */
    static SourceComponent unreadable(ComponentKey key, boolean fresh, String why) {
      return new SourceComponent(
          key, fresh ? "new" : "changed", "it cannot be read", "cannot be carried: " + why);
    }
  }

  /**
   * What a source holds.
   *
   * @param refused lies where components lie and cannot be one
   * @param passedOver lies outside the application's name space and every other's
   */
  public record Held(
      List<SourceComponent> components,
      List<RefusedDocument> refused,
      List<RefusedDocument> passedOver) {
    /** What can be taken over: new or changed, and readable. */
    Stream<SourceComponent> carried() {
      return components.stream()
          .filter(c -> c.state().equals("new") || c.state().equals("changed"))
          .filter(c -> c.problem().isEmpty());
    }

    /** What is there and cannot be taken over, each with its reason. */
    List<String> leftOut() {
      return Stream.concat(
              components.stream()
                  .filter(c -> !c.problem().isEmpty())
                  .map(c -> c.key() + " " + c.problem()),
              refused.stream().map(r -> r.path() + " cannot be carried: " + r.why()))
          .toList();
    }
  }

  /** The same without what roles may do, but for what the version carries of that. */
  public Held against(Person by, String application, SiteKey site, SemVer against) {
    return against(by, application, site, against, /* grants= */ false);
  }

  /**
   * What a source holds against the version that the draft starts from: every table, and the rows
   * that the version carries.
   *
   * @param grants also what roles may do that the version does not carry
   */
  public Held against(Person by, String application, SiteKey site, SemVer against, boolean grants) {
    Rights.require(by, Right.LOOK, stage(site), application);
    Version version = tools.keeper().read(kept -> kept.versions().get(application, against));
    List<SourceComponent> out = new ArrayList<>();
    try (SiteLook look = open(application, site)) {
      Renaming names = renamed(look, version);
      version = contents.renamed(version, names);
      Map<ComponentKey, ItemSeen> items = look.items(schema(application));
      Map<ComponentKey, ItemSeen> granted = look.grants(schema(application));
      Set<ComponentKey> keys = new TreeSet<>(items.keySet());
      if (grants) {
        keys.addAll(granted.keySet());
      }
      items.putAll(granted);
      version.entries().forEach(e -> keys.add(e.key()));
      look.findTables().ifPresent(tables -> tables(tables, schema(application), keys));
      for (ComponentKey key : keys) {
        VersionEntry was = version.entry(key).orElse(null);
        SourceComponent found =
            key.kind().whole()
                ? whole(key, was, items.get(key))
                : look.holds(key.kind())
                    ? against(look.tables(), key, was, names).called(names)
                    : new SourceComponent(key, "gone", "no longer at the source", "");
        out.add(found.known(look.lastChange(key), was == null ? "" : was.uid()));
      }
      return new Held(
          out,
          look.refused(),
          look.passedOver(schema(application), Applications.otherSpaces(tools, application)));
    }
  }

  private static void tables(TablesLooking looking, String schema, Set<ComponentKey> keys) {
    for (TableName table : looking.tables(schema)) {
      keys.add(new ComponentKey(Kind.TABLE, table.componentName()));
      if (!keyOf(looking, table).isEmpty()) {
        keys.add(new ComponentKey(Kind.RECORDS, table.componentName()));
      }
    }
  }

  private static SourceComponent whole(
      ComponentKey key, @Nullable VersionEntry entry, @Nullable ItemSeen seen) {
    if (seen == null) {
      return new SourceComponent(key, "gone", "no longer at the source", "");
    }
    String problem = seen.refusal().isEmpty() ? "" : "cannot be carried: " + seen.refusal();
    if (entry == null) {
      return new SourceComponent(key, "new", Words.count(seen.size(), "byte"), problem);
    }
    boolean same = entry.content().equals(seen.content());
    return new SourceComponent(
        key, same ? "same" : "changed", same ? "" : "its content changed", problem);
  }

  private static List<String> keyOf(TablesLooking looking, TableName table) {
    return looking.table(table).map(t -> RowKeys.proposed(t.structure())).orElse(List.of());
  }

  private SourceComponent against(
      TablesLooking looking, ComponentKey key, @Nullable VersionEntry entry, Renaming names) {
    Optional<TableCapture> capture = looking.table(TableName.of(key.name()));
    if (capture.isEmpty()) {
      return new SourceComponent(key, "gone", "no longer at the source", "");
    }
    if (capture.get().unreadable()) {
      return SourceComponent.unreadable(
          key, entry == null, String.join("; ", capture.get().refusals()));
    }
    String problem =
        capture.get().refusals().isEmpty()
            ? ""
            : "cannot be carried: " + String.join("; ", capture.get().refusals());
    if (entry == null) {
      return key.kind() == Kind.RECORDS
          ? new SourceComponent(
              key, "new", "rows are in no version", rowsProblem(looking, problem, capture.get()))
          : new SourceComponent(
              key,
              "new",
              Words.count(capture.get().structure().columns().size(), "column"),
              problem);
    }
    try {
      String changes = changes(looking, key, entry, capture.get(), names);
      return new SourceComponent(key, changes.isEmpty() ? "same" : "changed", changes, problem);
    } catch (IllegalArgumentException e) {
      return SourceComponent.unreadable(key, /* fresh= */ false, String.valueOf(e.getMessage()));
    }
  }

  private static String rowsProblem(TablesLooking looking, String problem, TableCapture table) {
    if (!problem.isEmpty()) {
      return problem;
    }
    String key = RowKeys.problem(looking, table, RowKeys.proposed(table.structure()));
    return key.isEmpty() ? "" : "cannot be carried: " + key;
  }

  /** What changed of a table that has another name, or columns that have, in a few words. */
  static String called(Renaming names, TableName table, String changes) {
    List<String> out = new ArrayList<>();
    if (names.isRenamed(table)) {
      out.add("called " + names.before(table) + " before");
    }
    names.renamedColumns(table).forEach((was, is) -> out.add(was + " is " + is));
    if (!changes.isEmpty()) {
      out.add(changes);
    }
    return String.join("; ", out);
  }

  TableStructure structure(VersionEntry table) {
    return contents.structure(table.content());
  }

  /**
   * What differs from the entry, in a few words; empty when nothing does.
   *
   * @param names from those of the version that the entry is by now called by
   */
  String changes(
      TablesLooking looking,
      ComponentKey key,
      VersionEntry entry,
      TableCapture now,
      Renaming names) {
    if (key.kind() == Kind.TABLE) {
      TableStructure was = contents.structure(entry.content());
      return was.equals(now.structure()) ? "" : describe(was, now.structure());
    }
    RecordsDefinition records = entry.records();
    if (!RowKeys.problem(now.structure(), records.key()).isEmpty()) {
      return "its key is gone";
    }
    Counts counts;
    try (RowReader was = rows(entry, names);
        RowReader is = looking.rows(records, null)) {
      counts =
          RecordsComparison.merge(
              null, was, is, (then, row) -> true, RecordsComparison.Base.PRESENT, row -> {});
    }
    return counts.written() == 0 ? "" : describe(counts);
  }

  static String describe(Counts c) {
    List<String> out = new ArrayList<>();
    add(out, c.removed(), "gone");
    add(out, c.changed(), "changed");
    add(out, c.added(), "added");
    return String.join(", ", out);
  }

  private static void add(List<String> out, long count, String what) {
    if (count > 0) {
      out.add(count + (count == 1 ? " row " : " rows ") + what);
    }
  }

  private static String describe(TableStructure was, TableStructure is) {
    List<String> out = new ArrayList<>();
    names(
        was.columns().stream().map(Column::name).toList(),
        is.columns().stream().map(Column::name).toList(),
        "column",
        out);
    names(
        was.constraints().stream().map(Constraint::name).toList(),
        is.constraints().stream().map(Constraint::name).toList(),
        "constraint",
        out);
    names(
        was.indexes().stream().map(Index::name).toList(),
        is.indexes().stream().map(Index::name).toList(),
        "index",
        out);
    for (Column c : is.columns()) {
      was.column(c.name())
          .filter(old -> !old.equals(c))
          .ifPresent(old -> out.add("column " + c.name() + " changed"));
    }
    return out.isEmpty() ? "changed" : String.join(", ", out);
  }

  private static void names(List<String> was, List<String> is, String what, List<String> out) {
    is.stream().filter(n -> !was.contains(n)).forEach(n -> out.add(what + " " + n + " added"));
    was.stream().filter(n -> !is.contains(n)).forEach(n -> out.add(what + " " + n + " gone"));
  }

  private String schema(String application) {
    return tools.keeper().read(kept -> kept.application(application)).schema();
  }
}
