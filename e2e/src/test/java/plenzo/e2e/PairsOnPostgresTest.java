package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.function.Consumer;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import plenzo.connectors.database.Judge;
import plenzo.connectors.database.SchemaMaker;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.running.RunListener;

/**
 * Made-up pairs of schemas through the whole engine, with all their rows: adopted, drafted, sealed,
 * promoted and gone back from. Judged by plain SQL.
 */
class PairsOnPostgresTest extends OnPostgres {

  /** Messages of a run of these; one that has fewer is not killed. */
  private static final int MESSAGES = 700;

  private Relay relay;

  PairsOnPostgresTest() {
    super("engine-pairs");
  }

  @BeforeAll
  void between() {
    relay = started.add(new Relay(cluster.port()));
  }

  private String structures(String database) {
    return Judge.lines(String.join("", cluster.query(database, Judge.EVERYTHING)))
        .replace(database + "_", "")
        // what is set of columns of a single partition is named as not carried
        .replaceAll("(?m)^set \"?(partition\\d|low of|rest of).*$", "");
  }

  private List<String> rows(String database) {
    List<String> out = new ArrayList<>();
    for (String table :
        cluster.query(
            database,
            "SELECT quote_ident(tablename) FROM pg_tables WHERE schemaname = 'fares' ORDER BY 1")) {
      List<String> columns =
          cluster.query(
              database,
              "SELECT quote_ident(attname) FROM pg_attribute WHERE attrelid = 'fares."
                  + table
                  + "'::regclass AND attnum > 0 AND NOT attisdropped ORDER BY 1");
      cluster
          .query(
              database,
              "SELECT "
                  + String.join("::text, ", columns)
                  + "::text FROM fares."
                  + table
                  + " ORDER BY "
                  + String.join(
                      ", ",
                      java.util.stream.IntStream.rangeClosed(1, columns.size())
                          .mapToObj(String::valueOf)
                          .toList()))
          .forEach(row -> out.add(table + " " + row));
    }
    return out;
  }

  private void made(String database, List<String> statements) {
    databases.lay(database, String.join("; ", statements));
  }

  private static List<String> blockers(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(f -> f.place() + ": " + f.sentence())
        .toList();
  }

  /** Says what is wrong of the pair that a seed makes; empty when nothing is. */
  private String wrong(long seed, Plan.Way way) {
    SchemaMaker before = new SchemaMaker(seed).fill().furnished();
    SchemaMaker after = before.changedMore();
    databases.lay("");
    made("production", all(before.statements(), before.rows()));
    made("development", all(after.statements(), after.laterRows()));
    return seed % 10 == 3 ? wrongWhenKilled(seed, way) : wrong(way, List.of());
  }

  /**
   * The same where the run is killed at some message to its database: wholly old or wholly new once
   * it was looked at again, as is said, and from there the same as without.
   */
  private String wrongWhenKilled(long seed, Plan.Way way) {
    String structures = structures("production");
    List<String> rows = rows("production");
    Path records = databases.nextCase();
    long number;
    try {
      try (EngineWorld world = new EngineWorld(records, relay.port(), RunListener.NOBODY)) {
        world.adopt(world.everything(EngineMain.SITE));
        world.sealEverything("1.1.0");
        Promotion p = world.promotion("1.1.0");
        if (!blockers(p).isEmpty()) {
          return "blocked: " + blockers(p);
        }
        number = p.number();
      }
      String at = killedOnce(records, new Random(seed));
      String said = KillTest.child(records, "recover").waitForEnd();
      boolean done = said.startsWith("ended done ");
      String end = at + ", then " + said + ": ";
      System.out.println("Seed " + seed + " " + at + ", then " + said);
      if (!structures("production").equals(done ? structures("development") : structures)) {
        return end + "structures";
      }
      if (!rows("production").equals(done ? rows("development") : rows)) {
        return end + "rows: " + rows("production");
      }
      try (EngineWorld world = EngineWorld.reopened(records)) {
        if (!done) {
          Run again = world.run(world.compared(number));
          if (again.state() != RunState.DONE) {
            return end + "not done: " + again.sentence();
          }
        }
        String why = notBack(world, way, structures, rows);
        return why.isEmpty() ? "" : end + why;
      }
    } catch (RuntimeException | IOException e) {
      return e.toString();
    }
  }

  private String killedOnce(Path records, Random random) throws IOException {
    int message = 1 + random.nextInt(MESSAGES);
    Relay.When when =
        List.of(Relay.When.BEFORE, Relay.When.AFTER, Relay.When.ANSWER_SWALLOWED)
            .get(random.nextInt(3));
    CompletableFuture<KillTest.Child> child = new CompletableFuture<>();
    relay.arm(new Relay.Trigger("", message, when, () -> child.join().kill()));
    child.complete(KillTest.child(records, "run"));
    child.join().waitForExit();
    String at =
        relay.fired() ? "killed " + when + " message " + message : "not killed before its end";
    relay.arm(null);
    return at;
  }

  /** The same of tables some of whose rows stand in partitions, which come and go. */
  private String wrongOfPartitioned(long seed, Plan.Way way) {
    SchemaMaker before = new SchemaMaker(seed).fill().furnished().partitioned();
    SchemaMaker after = before.changedPartitions();
    databases.lay("");
    made("production", all(before.statements(), before.rows()));
    made("development", all(after.statements(), after.laterRows()));
    return wrong(way, List.of());
  }

  /** The same of a schema some of whose tables and columns get another name where they stand. */
  private String wrongOfRenamed(long seed, Plan.Way way) {
    SchemaMaker before = new SchemaMaker(seed).fill().furnished();
    databases.lay("");
    made("production", all(before.statements(), before.rows()));
    made("development", all(before.statements(), before.rows()));
    return wrong(way, before.renaming());
  }

  /** The same where its own types become others of the same name. */
  private String wrongOfTypes(long seed, Plan.Way way) {
    SchemaMaker before = new SchemaMaker(seed).fill();
    SchemaMaker after = before.changedTypes(/* ranges= */ false);
    databases.lay("");
    made("production", all(before.statements(), before.rows()));
    made("development", all(after.statements(), after.laterRows()));
    return wrong(way, List.of());
  }

  /** The same of tables without a key, whose rows all their columns tell apart. */
  private String wrongOfLoose(long seed, Plan.Way way) {
    LooseTables tables = new LooseTables(seed);
    databases.lay("");
    made("production", tables.statements());
    List<String> before = tables.statements();
    tables.change();
    made("development", tables.statements());
    return before.equals(tables.statements()) ? "" : wrong(way, List.of());
  }

  /** The same of tables that inherit from one another, changed where they stand. */
  private String wrongOfFamilies(long seed, Plan.Way way) {
    FamilyTables tables = new FamilyTables(seed);
    List<String> before = tables.statements();
    databases.lay("");
    made("production", before);
    made("development", before);
    List<String> later = tables.change().statements();
    return later.isEmpty() ? "" : wrong(way, later);
  }

  /** The same as the first, by the client over HTTP. */
  private String wrongByClient(long seed, Plan.Way way) {
    SchemaMaker before = new SchemaMaker(seed).fill().furnished();
    SchemaMaker after = before.changedMore();
    databases.lay("");
    made("production", all(before.statements(), before.rows()));
    made("development", all(after.statements(), after.laterRows()));
    String structures = structures("production");
    List<String> rows = rows("production");
    try (PairByClient client = new PairByClient(databases.nextCase(), cluster.port())) {
      try {
        client.adopt(List.copyOf(before.tables()));
        client.bring();
        if (!structures("production").equals(structures("development"))) {
          return differing(structures("production"), structures("development")) + client.told();
        }
        if (!rows("production").equals(rows("development"))) {
          return "rows: " + rows("production") + " and not " + rows("development");
        }
        client.goBack(way.code());
      } catch (RuntimeException e) {
        return e + client.told();
      }
    } catch (IOException e) {
      return e.toString();
    }
    return !ofAll(structures("production")).equals(ofAll(structures))
        ? "structures of before: " + differing(structures("production"), structures)
        : rows("production").equals(rows)
            ? ""
            : "rows of before: " + rows("production") + " and not " + rows;
  }

  /** The same of columns that become others by what somebody states. */
  private String wrongOfConverted(long seed, Plan.Way way) {
    ConvertedTables tables = new ConvertedTables(seed);
    databases.lay("");
    made("production", tables.statements());
    made("development", tables.statements());
    return tables.stated().isEmpty()
        ? ""
        : wrong(
            way,
            tables.later(),
            world ->
                world.sealStructures(
                    "1.1.0",
                    draft ->
                        tables
                            .stated()
                            .forEach(
                                s ->
                                    world.convert(
                                        draft,
                                        ComponentKey.of("table/fares." + s.table()),
                                        s.column(),
                                        s.expression()))));
  }

  /**
   * @param later what is done in development once the site is adopted
   */
  private String wrong(Plan.Way way, List<String> later) {
    return wrong(way, later, world -> world.sealEverything("1.1.0"));
  }

  private String wrong(Plan.Way way, List<String> later, Consumer<EngineWorld> seal) {
    String structures = structures("production");
    List<String> rows = rows("production");
    try (EngineWorld world = engine()) {
      world.adopt(world.everything(EngineMain.SITE));
      if (!later.isEmpty()) {
        databases.as("development", String.join("; ", later));
      }
      seal.accept(world);
      Promotion p = world.promotion("1.1.0");
      if (!blockers(p).isEmpty()) {
        return "blocked: " + blockers(p);
      }
      Run run = world.run(p);
      if (run.state() != RunState.DONE) {
        return "not done: " + run.sentence();
      }
      String is = ofThese(structures("production"), structures);
      String wanted = ofThese(structures("development"), structures);
      if (!is.equals(wanted)) {
        return "structures: " + differing(is, wanted);
      }
      if (!rows("production").equals(rows("development"))) {
        return "rows: " + rows("production") + " and not " + rows("development");
      }
      return notBack(world, way, structures, rows);
    } catch (RuntimeException e) {
      return e.toString();
    }
  }

  /** Goes back, and says what is not as it was; empty when all is. */
  private String notBack(EngineWorld world, Plan.Way way, String structures, List<String> rows) {
    Promotion back = world.compared(world.goBack(world.way(way)).number());
    if (!blockers(back).isEmpty()) {
      return "no way back: " + blockers(back);
    }
    Run returned = world.run(back);
    if (returned.state() != RunState.DONE) {
      return "not back: " + returned.sentence();
    }
    if (!ofAll(structures("production")).equals(ofAll(structures))) {
      return "structures of before: " + differing(structures("production"), structures);
    }
    return rows("production").equals(rows)
        ? ""
        : "rows of before: " + rows("production") + " and not " + rows;
  }

  /**
   * Without which new table declares what of its family: one that got columns of its parent later
   * cannot be made with both their order and that.
   */
  private static String ofThese(String structures, String before) {
    return structures
        .lines()
        .filter(l -> !l.startsWith("handed ") || before.contains("\n" + told(l)))
        .collect(java.util.stream.Collectors.joining("\n"));
  }

  /** "handed fares.family3." of a line about one of its columns or checks. */
  private static String told(String line) {
    return line.replaceAll("^(handed (?:fares\\.)?(?:\"(?:[^\"]|\"\")+\"|[^. ]+)[. ]).*", "$1");
  }

  /** Without which table of a family declares what: what came back is declared anew. */
  private static String ofAll(String structures) {
    return structures.replaceAll("(?m)^handed .*\\R?", "");
  }

  private static List<String> all(List<String> statements, List<String> rows) {
    List<String> out = new ArrayList<>(statements);
    out.addAll(rows);
    return out;
  }

  private static String differing(String a, String b) {
    List<String> is = List.of(a.split("\n"));
    List<String> wanted = List.of(b.split("\n"));
    List<String> out = new ArrayList<>();
    is.stream().filter(l -> !wanted.contains(l)).forEach(l -> out.add("is     " + l));
    wanted.stream().filter(l -> !is.contains(l)).forEach(l -> out.add("wanted " + l));
    return String.join("\n", out);
  }

  /** A pair that a seed makes, through the engine. */
  private interface Pair {
    String wrong(long seed, Plan.Way way);
  }

  private static void pairs(long from, long until, Pair pair) {
    List<String> wrong = new ArrayList<>();
    for (long seed = from; seed < until; seed++) {
      String why = pair.wrong(seed, seed % 2 == 0 ? Plan.Way.BACKUP : Plan.Way.EARLIER_VERSION);
      if (!why.isEmpty()) {
        wrong.add("seed " + seed + ": " + why);
      }
    }
    assertThat(wrong).isEmpty();
  }

  /** {@code -Dplenzo.pairs.from=SEED -Dplenzo.pairs.until=SEED} replays some of them. */
  private static void byTheHundred(Pair pair) {
    pairs(Long.getLong("plenzo.pairs.from", 100), Long.getLong("plenzo.pairs.until", 200), pair);
  }

  @Test
  void becomeAlikeWithTheirRowsAndGoBack() {
    pairs(1, 3, this::wrong);
  }

  @Test
  void takeNewNamesAlongAndGoBack() {
    pairs(
        4,
        5,
        this::wrongOfRenamed); // columns are exchanged, and one takes the name of another that goes
    pairs(13, 14, this::wrongOfRenamed); // tables
  }

  @Test
  @Tag("nightly")
  void becomeAlikeWithTheirRowsAndGoBackByTheHundred() {
    byTheHundred(this::wrong);
  }

  @Test
  @Tag("nightly")
  void takeNewNamesAlongAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfRenamed);
  }

  @Test
  void haveRowsWithoutAKeyAndGoBack() {
    pairs(1, 3, this::wrongOfLoose);
  }

  @Test
  @Tag("nightly")
  void haveRowsWithoutAKeyAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfLoose);
  }

  @Test
  void areBroughtByTheClientAndGoBack() {
    pairs(5, 6, this::wrongByClient);
  }

  @Test
  @Tag("nightly")
  void areBroughtByTheClientAndGoBackByTheHundred() {
    byTheHundred(this::wrongByClient);
  }

  @Test
  void becomeWhatIsStatedAndGoBack() {
    pairs(1, 2, this::wrongOfConverted);
    pairs(11, 12, this::wrongOfConverted); // wrong once
  }

  @Test
  @Tag("nightly")
  void becomeWhatIsStatedAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfConverted);
  }

  @Test
  void getOtherTypesAndGoBack() {
    pairs(1, 3, this::wrongOfTypes);
  }

  @Test
  @Tag("nightly")
  void getOtherTypesAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfTypes);
  }

  @Test
  void inheritAndGoBack() {
    pairs(1, 3, this::wrongOfFamilies);
  }

  @Test
  @Tag("nightly")
  void inheritAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfFamilies);
  }

  @Test
  void standInPartitionsAndGoBack() {
    pairs(2, 4, this::wrongOfPartitioned);
  }

  @Test
  @Tag("nightly")
  void standInPartitionsAndGoBackByTheHundred() {
    byTheHundred(this::wrongOfPartitioned);
  }
}
