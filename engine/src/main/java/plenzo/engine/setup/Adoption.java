package plenzo.engine.setup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsPolicy;
import plenzo.core.source.RefusedDocument;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.table.Column;
import plenzo.core.target.Changing;
import plenzo.core.target.Looking;
import plenzo.core.target.Question;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.underway.Underway;
import plenzo.engine.underway.Work;

/** Records what a site already holds, without a run; nothing is written there but the marker. */
public final class Adoption {
  private final Tools tools;
  private final Targets targets;
  private final Contents contents;
  private final Renames renames;
  private final SiteNumbers numbers;

  public Adoption(Tools tools, Targets targets, Contents contents, Renames renames) {
    this.renames = renames;
    this.numbers = new SiteNumbers(tools);
    this.tools = tools;
    this.targets = targets;
    this.contents = contents;
  }

  /**
   * A component that may be adopted, the rows of a table together with their table.
   *
   * @param component the table, file or definition
   * @param rows of a table, −1 of one that cannot be carried
   * @param size bytes of a file or definition, 0 for tables
   * @param key proposed key of its records: the natural one, the primary key, or all columns
   * @param keyProblem why its rows cannot be records, or empty
   * @param keyRemark what to think of before its rows are taken by that key, or empty
   * @param refusals why the table cannot be carried; empty when it can
   */
  public record Candidate(
      ComponentKey component,
      long rows,
      long size,
      List<String> key,
      String keyProblem,
      String keyRemark,
      List<String> refusals,
      List<String> risks) {}

  public Held candidates(Person by, String application, SiteKey site) {
    return candidates(by, application, site, /* grants= */ false);
  }

  /**
   * @param grants also what roles may do, which is carried only where it is asked for
   */
  public Held candidates(Person by, String application, SiteKey site, boolean grants) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    Application a = application(application);
    try (SiteLook look = targets.look(site)) {
      List<Candidate> out = new ArrayList<>();
      look.findTables().ifPresent(tables -> tables(tables, a.schema(), out));
      (grants ? look.itemsAndGrants(a.schema()) : look.items(a.schema()))
          .values()
          .forEach(seen -> out.add(whole(seen)));
      return new Held(
          List.copyOf(out),
          look.findTables().map(t -> t.uncarried(a.schema())).orElse(List.of()),
          look.passedOver(a.schema(), Applications.otherSpaces(tools, application)));
    }
  }

  private static Candidate whole(ItemSeen seen) {
    return new Candidate(
        seen.key(),
        0,
        seen.size(),
        List.of(),
        "",
        "",
        seen.refusal().isEmpty() ? List.of() : List.of(seen.refusal()),
        List.of());
  }

  /**
   * What a site holds of an application, at one instant.
   *
   * @param uncarried what else stands in the application's schema
   * @param passedOver what lies outside its name space and every other application's
   */
  public record Held(
      List<Candidate> candidates, List<Uncarried> uncarried, List<RefusedDocument> passedOver) {}

  private static void tables(TablesLooking looking, String schema, List<Candidate> out) {
    for (TableName table : looking.tables(schema)) {
      TableCapture capture = looking.table(table).orElseThrow();
      // of one that cannot be carried not all rows may be seen, and none is asked for
      long rows =
          capture.refusals().isEmpty()
              ? looking.answer(Question.of(Question.Type.ROWS, table)).count()
              : -1;
      List<String> key = RowKeys.proposed(capture.structure());
      out.add(
          new Candidate(
              new ComponentKey(Kind.TABLE, table.componentName()),
              rows,
              0,
              key,
              rows < 0
                  ? RowKeys.problem(capture.structure(), key)
                  : RowKeys.problem(looking, capture, key),
              RowKeys.remark(capture.structure(), key),
              capture.refusals(),
              capture.risks()));
    }
  }

  private Application application(String key) {
    return tools.keeper().read(kept -> kept.application(key));
  }

  /**
   * @throws Problem when the key tells rows apart at one place alone, and nobody said that it will
   *     do
   */
  public static void requireTelling(TableCapture capture, List<String> key, Pick pick) {
    if (RowKeys.generated(capture.structure(), key) && !pick.generatedKeyConfirmed()) {
      throw Problem.stopped(
          "GENERATED_KEY",
          "The rows of "
              + capture.table()
              + " are told apart by a key that may mislead: "
              + RowKeys.madeByTheDatabase(key)
              + ".",
          "Name a key that means something: records/"
              + capture.table().componentName()
              + ":COLUMN, or take this one with --generated-key");
    }
  }

  /**
   * What is picked: tables, and of which of them the rows too; a null key means the proposed one.
   *
   * @param policy of rows, null for the one that they have
   */
  public record Pick(
      ComponentKey key,
      @Nullable RecordsDefinition records,
      boolean generatedKeyConfirmed,
      @Nullable RowsPolicy policy) {
    public Pick(
        ComponentKey key, @Nullable RecordsDefinition records, boolean generatedKeyConfirmed) {
      this(key, records, generatedKeyConfirmed, null);
    }

    /**
     * Rows under the policy that is asked for.
     *
     * @throws Problem when these rows cannot be under it
     */
    public RecordsDefinition under(RecordsDefinition rows) {
      RecordsDefinition out = policy == null ? rows : rows.with(policy);
      if (out.policy() == RowsPolicy.MIRROR && out.condition() != null) {
        throw Problem.invalid(
            "POLICY",
            key
                + " has rows under a condition: a mirror has all rows of its table. Name no condition, or another policy.",
            "/picks");
      }
      return out;
    }
  }

  /**
   * Reads a site's picks at one instant and seals them as the application's first version there.
   */
  public Version adopt(
      Person by, String application, SiteKey site, SemVer number, String title, List<Pick> picks) {
    return tools
        .underway()
        .during(
            Work.Act.ADOPT,
            by.login(),
            "application/" + application,
            application,
            () -> adopted(by, application, site, number, title, picks));
  }

  private Version adopted(
      Person by, String application, SiteKey site, SemVer number, String title, List<Pick> picks) {
    Rights.require(by, Right.AUTHOR, site.stage(), application);
    Rights.require(by, Right.OPERATE, site.stage(), application);
    tools.keeper().read(kept -> Retiring.requireInUse(kept, application));
    requireTarget(site);
    if (picks.isEmpty() && !candidates(by, application, site).candidates().isEmpty()) {
      throw Problem.invalid(
          "NOTHING_PICKED",
          "Pick at least one component to adopt: " + site + " holds some.",
          "/picks");
    }
    List<VersionEntry> entries = new ArrayList<>();
    List<String> coverage = new ArrayList<>();
    try (SiteLook look = targets.look(site)) {
      Underway.Progress progress = tools.underway().now();
      progress.of(picks.size(), "components");
      for (Pick pick : picks) {
        progress.at(pick.key().toString());
        entries.add(read(look, pick, tools.newId(), site.toString()));
        progress.next();
      }
      remember(look, application, site, number, entries);
      coverage.addAll(
          Coverage.of(
              look,
              tools.keeper().read(kept -> kept.application(application)).schema(),
              entries.stream().map(VersionEntry::key).collect(Collectors.toSet())));
    }
    Version version =
        Version.of(
                application,
                number,
                null,
                entries,
                List.of(),
                List.of(),
                List.of(),
                title,
                "Adopted from " + site,
                List.of(),
                by.login(),
                tools.now(),
                site.toString())
            .covering(coverage);
    targets.all(site).forEach(this::declare);
    return tools
        .keeper()
        .write(
            kept -> {
              if (!kept.versions().list(application).isEmpty()) {
                throw Problem.stopped(
                    "ALREADY_ADOPTED",
                    application + " has versions already.",
                    "Match this site with one of them instead: plenzo app match " + application);
              }
              kept.versions().insert(version);
              place(
                  kept,
                  by,
                  application,
                  site,
                  number,
                  "adopted",
                  Words.count(entries.size(), "component") + " recorded as " + number);
              return version;
            });
  }

  private void requireTarget(SiteKey site) {
    if (targets.stage(site).role() == Stage.Role.DEVELOPMENT) {
      throw Problem.invalid(
          "A_SOURCE",
          site + " is a source: people edit there, so it has changes, not a version.",
          "/site");
    }
  }

  /** Renames made from now on are told from a drop and an add. */
  private void remember(
      SiteLook look, String application, SiteKey site, SemVer number, List<VersionEntry> entries) {
    Map<TableName, Set<String>> columns = new LinkedHashMap<>();
    for (VersionEntry e : entries) {
      if (e.key().kind() == Kind.TABLE) {
        columns.put(
            TableName.of(e.key().name()),
            contents.structure(e.content()).columns().stream()
                .map(Column::name)
                .collect(Collectors.toSet()));
      }
    }
    if (!columns.isEmpty()) {
      Renames.Of version = new Renames.Of(application, number);
      look.findTables().ifPresent(t -> renames.rememberAlike(version, t, columns));
      numbers.remember(application, site, number, look, columns.keySet());
      renames.rememberSources(version, site.stage(), columns);
    }
  }

  /** Reads one component. */
  public VersionEntry read(SiteLook look, Pick pick, String uid, String origin) {
    return read(look, pick, uid, origin, rows -> {});
  }

  /**
   * The same, while somebody reads the rows on their way.
   *
   * @param reading not asked where there are none
   */
  public VersionEntry read(
      SiteLook look, Pick pick, String uid, String origin, Consumer<RowReader> reading) {
    if (pick.key().kind().whole()) {
      return whole(look, pick.key(), uid, origin);
    }
    TablesLooking looking = look.tables();
    TableName table =
        pick.records() == null ? TableName.of(pick.key().name()) : pick.records().table();
    TableCapture capture =
        looking
            .table(table)
            .orElseThrow(() -> Problem.notFound("table at " + origin, table.toString()));
    if (!capture.refusals().isEmpty()) {
      throw Problem.stopped(
          "CANNOT_CARRY",
          pick.key() + " cannot be carried: " + String.join("; ", capture.refusals()) + ".",
          "Leave it out");
    }
    if (pick.key().kind() == Kind.TABLE) {
      return new VersionEntry(
          pick.key(),
          uid,
          contents.put(capture.structure()).digest(),
          VersionEntry.options(capture.structure().places()),
          0,
          origin);
    }
    RecordsDefinition records =
        pick.under(
            pick.records() != null
                ? pick.records()
                : new RecordsDefinition(table, RowKeys.proposed(capture.structure()), null));
    String problem = RowKeys.problem(looking, capture, records.key());
    if (!problem.isEmpty()) {
      throw Problem.stopped(
          "NO_KEY",
          "The rows of " + table + " cannot be records: " + problem + ".",
          "Name other key columns");
    }
    requireTelling(capture, records.key(), pick);
    try (RowReader rows = looking.rows(records, null)) {
      Contents.Stored stored = contents.put(rows, reading);
      return new VersionEntry(
          pick.key(), uid, stored.digest(), records.toJson().canonical(), stored.rows(), origin);
    } catch (IllegalArgumentException e) {
      throw Problem.stopped(
          "CANNOT_CARRY",
          pick.key() + " cannot be carried: " + e.getMessage() + ".",
          "Correct it at the source");
    }
  }

  private VersionEntry whole(SiteLook look, ComponentKey key, String uid, String origin) {
    try (InputStream in = look.read(key)) {
      Contents.Stored stored = contents.put(key.kind(), in);
      if (key.kind().definition()) {
        contents.definition(key, stored.digest()); // refused when it is none
      }
      return new VersionEntry(key, uid, stored.digest(), null, 0, origin);
    } catch (IOException e) {
      throw new UncheckedIOException(key + " cannot be read at " + origin, e);
    } catch (IllegalArgumentException e) {
      throw Problem.stopped(
          "CANNOT_CARRY", key + " cannot be carried: " + e.getMessage() + ".", "Leave it out");
    }
  }

  /**
   * Records that a site holds a version that exists, whatever differs; what differs shows as drift.
   * Said of the version that is recorded there already, it marks targets that were added since.
   */
  public SiteRecord match(Person by, String application, SiteKey site, SemVer number) {
    Rights.require(by, Right.OPERATE, site.stage(), application);
    tools.keeper().read(kept -> Retiring.requireInUse(kept, application));
    requireTarget(site);
    tools.keeper().read(kept -> kept.versions().getHead(application, number));
    String id = application + "@" + site;
    Optional<SiteRecord> there = tools.keeper().read(kept -> kept.sites().find(id));
    if (there.isPresent()) {
      return matchedAgain(by, there.get(), number);
    }
    targets.all(site).forEach(this::declare);
    try (SiteLook look = targets.look(site)) {
      remember(look, application, site, number, entries(application, number));
    }
    return tools
        .keeper()
        .write(
            kept ->
                place(
                    kept,
                    by,
                    application,
                    site,
                    number,
                    "matched",
                    "Matched with " + number + " by kind and name"));
  }

  private List<VersionEntry> entries(String application, SemVer number) {
    return tools
        .keeper()
        .read(kept -> kept.versions().find(application + "@" + number))
        .orElseThrow()
        .entries();
  }

  /**
   * A target that was added to the site since gets its marker, and which names stand for what is
   * remembered anew; the record stays as it is.
   */
  private SiteRecord matchedAgain(Person by, SiteRecord there, SemVer number) {
    SemVer recorded = there.lastPlacement().orElseThrow().version();
    if (!recorded.equals(number)) {
      throw Problem.stopped(
          "ALREADY_THERE",
          there.application()
              + " is recorded at "
              + there.site()
              + " already, with "
              + recorded
              + ".",
          "plenzo standing");
    }
    targets.all(there.site()).forEach(this::declare);
    try (SiteLook look = targets.look(there.site())) {
      remember(
          look, there.application(), there.site(), number, entries(there.application(), number));
    }
    return tools
        .keeper()
        .write(
            kept -> {
              kept.note(
                  new Event(
                      by.login(),
                      "matched",
                      there.application(),
                      there.site().stage(),
                      there.site().site(),
                      number.text(),
                      null,
                      null,
                      "Its targets are marked and the numbers of its tables remembered; "
                          + number
                          + " was recorded already"),
                  tools.now());
              return kept.sites().find(there.id()).orElseThrow();
            });
  }

  private SiteRecord place(
      Kept kept,
      Person by,
      String application,
      SiteKey site,
      SemVer number,
      String how,
      String text) {
    String id = application + "@" + site;
    SiteRecord none = SiteRecord.none(application, site);
    if (kept.sites().find(id).isPresent()) {
      throw Problem.stopped(
          "ALREADY_THERE",
          application + " is recorded at " + site + " already.",
          "plenzo standing");
    }
    SiteRecord record =
        none.placed(
            new SiteRecord.Placement(number, how, null, tools.now(), by.login()),
            List.of(),
            null,
            SiteRecord.Look.NONE);
    kept.sites().insert(record);
    kept.note(
        new Event(
            by.login(),
            how,
            application,
            site.stage(),
            site.site(),
            number.text(),
            null,
            null,
            text),
        tools.now());
    return record;
  }

  private void declare(Targets.At at) {
    TargetIdentity me = at.identity(tools.keeper().service(), tools.now());
    Optional<TargetIdentity> found;
    try (Looking looking = targets.look(at)) {
      found = looking.identity();
    }
    if (found.isPresent() && !me.isMarkedAs(found.get())) {
      throw Problem.stopped(
          "WRONG_IDENTITY",
          "This "
              + at.holder().word()
              + " says it is "
              + found.get().shown()
              + " since "
              + found.get().since().toString().substring(0, 10)
              + ". Wrong address, or a copy?",
          "Correct the address, or remove the marker from the copy");
    }
    if (found.isEmpty()) {
      try (Changing changing = targets.change(at)) {
        changing.declare(me, targets.lookingAccount(at));
      }
    }
  }
}
