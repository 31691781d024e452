package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.impact.Finding;
import plenzo.core.promotion.Promotion;
import plenzo.engine.running.RunListener;

/**
 * Each rule with the smallest data that breaks it and with data just short of it, on real
 * databases: what is counted is the state after the run.
 */
class ImpactTest extends OnPostgres {
  private static final List<String> ALL = EngineWorld.both("parent", "child", "grandchild");

  /** A parent, a child that points at it, a grandchild that follows the child. */
  private static final String BASE =
      "CREATE TABLE fares.parent (code text PRIMARY KEY, name text, size integer, CONSTRAINT parent_name UNIQUE (name));"
          + "CREATE TABLE fares.child (code text PRIMARY KEY, parent text CONSTRAINT child_parent REFERENCES fares.parent);"
          + "CREATE TABLE fares.grandchild (code text PRIMARY KEY, child text CONSTRAINT grandchild_child REFERENCES fares.child ON DELETE CASCADE);"
          + "INSERT INTO fares.parent VALUES ('A', 'Ann', 1), ('B', 'Bea', 2), ('C', NULL, 3);"
          + "INSERT INTO fares.child VALUES ('X', 'A'), ('Y', NULL), ('Z', NULL);"
          + "INSERT INTO fares.grandchild VALUES ('G', 'Z')";

  ImpactTest() {
    super("impact");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
  }

  private void as(String database, String sql) {
    databases.as(database, sql);
  }

  /** Findings of a promotion after edits in development and, since the adoption, at the site. */
  private Promotion promotion(String development, String site) throws IOException {
    Path folder = databases.nextCase();
    try (EngineWorld world = new EngineWorld(folder, cluster.port(), RunListener.NOBODY)) {
      world.adopt(ALL);
      as("development", development);
      as("production", site);
      world.seal("1.1.0", ALL);
      return world.promotion("1.1.0");
    }
  }

  @ParameterizedTest(name = "{0}: {1} / {2}")
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "column-dropped       | risk    | ALTER TABLE fares.parent DROP size                                             | UPDATE fares.parent SET size = NULL WHERE code <> 'A' | UPDATE fares.parent SET size = NULL",
        "value-does-not-fit   | blocker | ALTER TABLE fares.parent ALTER name TYPE varchar(4)                             | UPDATE fares.parent SET name = 'Clara' WHERE code = 'C' | UPDATE fares.parent SET name = 'Clar' WHERE code = 'C'",
        "duplicate-in-unique  | blocker | ALTER TABLE fares.parent ADD CONSTRAINT parent_size UNIQUE (size)               | INSERT INTO fares.parent VALUES ('D', 'D', 7), ('E', 'E', 7) | INSERT INTO fares.parent VALUES ('D', 'D', 7), ('E', 'E', 8)",
        "orphan-in-foreign-key| blocker | INSERT INTO fares.grandchild VALUES ('X'), ('Y'), ('Z'); ALTER TABLE fares.child ADD CONSTRAINT child_again FOREIGN KEY (code) REFERENCES fares.grandchild | INSERT INTO fares.child VALUES ('V', NULL) | INSERT INTO fares.grandchild VALUES ('V'); INSERT INTO fares.child VALUES ('V', NULL)",
        "row-needed           | blocker | DELETE FROM fares.parent WHERE code = 'B'                                       | INSERT INTO fares.child VALUES ('V', 'B')             | INSERT INTO fares.child VALUES ('V', 'C')",
        "row-missing          | blocker | INSERT INTO fares.child VALUES ('V', 'B')                                       | DELETE FROM fares.parent WHERE code = 'B'             | UPDATE fares.parent SET size = 9 WHERE code = 'B'",
        "dependent-breaks     | blocker | ALTER TABLE fares.parent DROP size                                              | CREATE VIEW fares.sizes AS SELECT size FROM fares.parent | CREATE VIEW fares.names AS SELECT name FROM fares.parent",
        "conflict-undecided   | blocker | UPDATE fares.parent SET size = 5 WHERE code = 'A'                               | UPDATE fares.parent SET size = 6 WHERE code = 'A'     | UPDATE fares.parent SET size = 6 WHERE code = 'B'",
        "foreign-code         | risk    | UPDATE fares.parent SET size = 5 WHERE code = 'A'                               | CREATE FUNCTION fares.f() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN new; END'; CREATE TRIGGER t BEFORE UPDATE ON fares.parent FOR EACH ROW EXECUTE FUNCTION fares.f() | CREATE FUNCTION fares.f() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN new; END'; CREATE TRIGGER t BEFORE UPDATE ON fares.child FOR EACH ROW EXECUTE FUNCTION fares.f()"
      })
  void bitesAtTheSmallestDataAndNotJustShortOfIt(
      String rule, String severity, String development, String bites, String doesNot)
      throws IOException {
    Promotion short_;
    Promotion broken;
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      as("development", development);
      as("production", doesNot);
      world.seal("1.1.0", ALL);
      short_ = world.promotion("1.1.0");
      databases.lay("production", BASE);
      as("production", bites);
      world.engine.promotions().compareAgain(world.ines, short_.number());
      broken = world.compared(short_.number());
    }

    assertThat(of(short_, rule)).as(String.valueOf(short_.findings())).isEmpty();
    if (!severity.equals("none")) {
      assertThat(of(broken, rule))
          .as(String.valueOf(broken.findings()))
          .isNotEmpty()
          .allSatisfy(f -> assertThat(f.severity().name()).isEqualToIgnoringCase(severity))
          .allSatisfy(f -> assertThat(f.count()).isIn(0L, 1L)); // 0 is a yes or no
    }
  }

  @Tag("nightly")
  @ParameterizedTest(name = "{0}: {1} / {2}")
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "table-dropped        | risk    | DROP TABLE fares.grandchild                                                     | SELECT 1                                              | DELETE FROM fares.grandchild",
        "value-does-not-fit   | blocker | ALTER TABLE fares.parent ALTER size TYPE smallint                               | UPDATE fares.parent SET size = 32768 WHERE code = 'C' | UPDATE fares.parent SET size = 32767 WHERE code = 'C'",
        "null-in-not-null     | blocker | UPDATE fares.parent SET name = 'Cleo' WHERE code = 'C'; ALTER TABLE fares.parent ALTER name SET NOT NULL | INSERT INTO fares.parent VALUES ('D', NULL, 4) | INSERT INTO fares.parent VALUES ('D', 'Dora', 4)",
        "null-in-not-null     | blocker | ALTER TABLE fares.child ADD note text; UPDATE fares.child SET note = ''; ALTER TABLE fares.child ALTER note SET NOT NULL | INSERT INTO fares.child VALUES ('W', NULL) | SELECT 1",
        "row-needed           | risk    | DELETE FROM fares.child WHERE code = 'Y'                                        | INSERT INTO fares.grandchild VALUES ('H', 'Y')        | INSERT INTO fares.grandchild VALUES ('H', 'Z')",
        "value-taken          | blocker | INSERT INTO fares.parent VALUES ('D', 'Dora', 4)                                | INSERT INTO fares.parent VALUES ('E', 'Dora', 5)      | INSERT INTO fares.parent VALUES ('E', 'Dori', 5)",
        "dependent-breaks     | blocker | ALTER TABLE fares.child DROP CONSTRAINT child_parent; DROP TABLE fares.parent   | CREATE TABLE fares.other (a text REFERENCES fares.parent) | CREATE TABLE fares.other (a text)",
        "drift-overwritten    | none    | UPDATE fares.parent SET size = 5 WHERE code = 'A'                               | SELECT 1                                              | SELECT 1",
        "hand-made-kept       | note    | UPDATE fares.parent SET size = 5 WHERE code = 'A'                               | UPDATE fares.parent SET size = 6 WHERE code = 'B'     | UPDATE fares.parent SET size = 5 WHERE code = 'A'"
      })
  void bitesAtTheSmallestDataAndNotJustShortOfItInFurtherCases(
      String rule, String severity, String development, String bites, String doesNot)
      throws IOException {
    bitesAtTheSmallestDataAndNotJustShortOfIt(rule, severity, development, bites, doesNot);
  }

  private static List<Finding> of(Promotion p, String rule) {
    return p.findings().stream().filter(f -> f.rule().equals(rule)).toList();
  }

  @Test
  void countsWhatCascadesReachAndBringsItBack() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      as("development", "DELETE FROM fares.child WHERE code = 'Y'");
      as("production", "INSERT INTO fares.grandchild VALUES ('H', 'Y'), ('I', 'Y')");
      world.seal("1.1.0", ALL);
      Promotion p = world.promotion("1.1.0");

      assertThat(of(p, "row-needed"))
          .singleElement()
          .satisfies(
              f -> {
                assertThat(f.count()).isEqualTo(2);
                assertThat(f.query()).contains("fares");
              });
      var run = world.run(p);

      assertThat(run.state().code()).isEqualTo("done");
      assertThat(cluster.query("production", "SELECT code FROM fares.grandchild"))
          .containsExactly("G");
      assertThat(
              cluster.query(
                  "production",
                  "SELECT code FROM plenzo.before_" + run.number() + "_1 ORDER BY code"))
          .as("before-images of what the database removed by itself")
          .containsExactly("H", "I");
      assertThat(run.backup().tables()).contains("fares.grandchild");
    }
  }

  /** Names and values that break whoever glues SQL together. */
  @Test
  void carriesNamesAndValuesThatNeedQuoting() throws IOException {
    String table = "fares.\"Odd \"\"fares\"\" é.x\"";
    String make =
        "CREATE TABLE "
            + table
            + " (\"select\" text PRIMARY KEY, \"a 'b' \"\"c\"\"\" text UNIQUE, \"x;--\" numeric(6,2) DEFAULT 1.50)";
    for (String database : List.of("development", "production")) {
      as(database, make);
    }
    as(
        "development",
        "INSERT INTO "
            + table
            + " VALUES (E'it''s \\\\ \\n \"q\"', '; DROP TABLE fares.parent; --', 2), ('', NULL, NULL), (E'\\\\.', ',', 3)");
    List<String> picks =
        List.of("table/fares.\"Odd \"\"fares\"\" é.x\"", "records/fares.\"Odd \"\"fares\"\" é.x\"");
    try (EngineWorld world = engine()) {
      world.adopt(picks);
      as("development", "ALTER TABLE " + table + " ADD \"über\" jsonb DEFAULT '{\"a\": 1}'");
      world.seal("1.1.0", picks);

      assertThat(world.run(world.promotion("1.1.0")).state().code()).isEqualTo("done");

      String all = "SELECT to_jsonb(t) FROM " + table + " t ORDER BY 1";
      assertThat(cluster.query("production", all))
          .hasSize(3)
          .isEqualTo(cluster.query("development", all));
      assertThat(cluster.query("production", "SELECT count(*) FROM fares.parent"))
          .containsExactly("3");
    }
  }

  @Test
  void seesAnExchangeOfUniqueValuesBeforehand() throws IOException {
    Promotion p =
        promotion(
            "UPDATE fares.parent SET name = 'x' WHERE code = 'A'; UPDATE fares.parent SET name = 'Ann' WHERE code = 'B'; UPDATE fares.parent SET name = 'Bea' WHERE code = 'A'",
            "SELECT 1");

    assertThat(of(p, "value-taken"))
        .singleElement()
        .satisfies(
            f -> assertThat(f.sentence()).contains("2 rows of fares.parent have a value of name"));
  }
}
