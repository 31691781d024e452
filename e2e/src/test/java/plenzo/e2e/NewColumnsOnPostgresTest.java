package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/**
 * What rows of a site get in a column that comes is held against what the version asks of it,
 * before the run: where a plan has no blocker it goes through.
 */
class NewColumnsOnPostgresTest extends OnPostgres {
  NewColumnsOnPostgresTest() {
    super("new-columns");
  }

  @BeforeEach
  void world() {
    databases.unmark();
  }

  /** What is done in development to a table t1, t2 and so on; a name in braces stands for it. */
  private Promotion done(EngineWorld world, List<String> changes) {
    List<String> tables = new ArrayList<>(List.of("table/fares.port"));
    StringBuilder laid =
        new StringBuilder(
            "CREATE TABLE fares.port (code text PRIMARY KEY); INSERT INTO fares.port VALUES ('M')");
    StringBuilder all = new StringBuilder("CREATE TABLE fares.area (code text PRIMARY KEY)");
    for (int n = 1; n <= changes.size(); n++) {
      String table = "fares.t" + n;
      tables.add("table/" + table);
      laid.append("; CREATE TABLE ")
          .append(table)
          .append(" (code text PRIMARY KEY, name text NOT NULL); INSERT INTO ")
          .append(table)
          .append(" VALUES ('a', 'Low'), ('b', 'North'), ('c', 'low')");
      all.append("; ").append(changes.get(n - 1).replace("{table}", table));
    }
    databases.lay(laid.toString());
    world.adopt(tables);
    databases.as("development", all.toString());
    world.sealStructures("1.1.0");
    return world.promotion("1.1.0");
  }

  @Test
  void areCountedWithWhatTheyWillHold() throws IOException {
    try (EngineWorld world = engine()) {
      Promotion p =
          done(
              world,
              List.of(
                  "ALTER TABLE {table} ADD COLUMN area text; ALTER TABLE {table} ALTER COLUMN area SET DEFAULT 'north', ADD FOREIGN KEY (area) REFERENCES fares.area",
                  "ALTER TABLE {table} ADD COLUMN next text; ALTER TABLE {table} ALTER COLUMN next SET DEFAULT 'X', ADD FOREIGN KEY (next) REFERENCES fares.port",
                  "ALTER TABLE {table} ADD COLUMN mark text; ALTER TABLE {table} ALTER COLUMN mark SET DEFAULT 'x', ADD UNIQUE (mark)",
                  "UPDATE {table} SET name = code; ALTER TABLE {table} ADD COLUMN low text GENERATED ALWAYS AS (lower(name)) STORED UNIQUE",
                  "ALTER TABLE {table} ADD COLUMN depth integer; ALTER TABLE {table} ALTER COLUMN depth SET DEFAULT -1, ADD CHECK (depth > 0)",
                  "UPDATE {table} SET name = 'long'; ALTER TABLE {table} ADD COLUMN size integer GENERATED ALWAYS AS (length(name)) STORED, ADD CHECK (size > 3)",
                  "ALTER TABLE {table} ADD COLUMN mark text; ALTER TABLE {table} ALTER COLUMN mark SET DEFAULT 'x'; CREATE UNIQUE INDEX ON {table} (lower(mark))",
                  "UPDATE {table} SET name = code; CREATE UNIQUE INDEX ON {table} (lower(name))",
                  "UPDATE {table} SET name = code; ALTER TABLE {table} RENAME COLUMN name TO label; ALTER TABLE {table} ALTER COLUMN label TYPE varchar(20); CREATE UNIQUE INDEX ON {table} (lower(label))",
                  "ALTER TABLE {table} ADD COLUMN span int4range; ALTER TABLE {table} ALTER COLUMN span SET DEFAULT '[1,3)', ADD EXCLUDE USING gist (span WITH &&)",
                  "DELETE FROM {table}; CREATE UNIQUE INDEX ON {table} ((true))"));

      assertThat(p.findings())
          .filteredOn(f -> f.severity() == Severity.BLOCKER)
          .extracting(f -> f.rule() + " " + f.place().replaceFirst("#.*", "") + " " + f.count())
          .containsExactlyInAnyOrder(
              "orphan-in-foreign-key table/fares.t1 3",
              "orphan-in-foreign-key table/fares.t2 3",
              "duplicate-in-unique table/fares.t3 1",
              "duplicate-in-unique table/fares.t4 1",
              "check-violated table/fares.t5 3",
              "check-violated table/fares.t6 2",
              "duplicate-in-unique table/fares.t7 1",
              "duplicate-in-unique table/fares.t8 1",
              "duplicate-in-unique table/fares.t9 1",
              "check-violated table/fares.t10 3",
              "duplicate-in-unique table/fares.t11 1");
    }
  }

  @Test
  void goThroughWhereTheyHoldIt() throws IOException {
    try (EngineWorld world = engine()) {
      Promotion p =
          done(
              world,
              List.of(
                  "ALTER TABLE {table} ADD COLUMN next text DEFAULT 'M' REFERENCES fares.port",
                  "ALTER TABLE {table} ADD COLUMN next text REFERENCES fares.port",
                  "ALTER TABLE {table} ADD COLUMN mark text; ALTER TABLE {table} ALTER COLUMN mark SET DEFAULT 'x', ADD UNIQUE (name, mark)",
                  "ALTER TABLE {table} ADD COLUMN mark text UNIQUE",
                  "ALTER TABLE {table} ADD COLUMN mark integer GENERATED BY DEFAULT AS IDENTITY UNIQUE",
                  "ALTER TABLE {table} ADD COLUMN mark uuid DEFAULT gen_random_uuid() UNIQUE",
                  "ALTER TABLE {table} ADD COLUMN low text GENERATED ALWAYS AS (lower(code)) STORED UNIQUE",
                  "ALTER TABLE {table} ADD COLUMN depth integer DEFAULT 4 CHECK (depth > 0)",
                  "ALTER TABLE {table} ADD COLUMN depth integer, ADD CHECK (depth > 0)",
                  "ALTER TABLE {table} ADD COLUMN mark text DEFAULT 'x'; CREATE UNIQUE INDEX ON {table} (lower(mark), code)",
                  "ALTER TABLE {table} ADD COLUMN mark text; CREATE UNIQUE INDEX ON {table} (lower(mark))",
                  "CREATE UNIQUE INDEX ON {table} ((true)) WHERE code = 'a'",
                  "ALTER TABLE {table} RENAME COLUMN name TO label; ALTER TABLE {table} ALTER COLUMN label TYPE varchar(20); CREATE UNIQUE INDEX ON {table} (upper(label), lower(code))",
                  "ALTER TABLE {table} ADD COLUMN span int4range, ADD EXCLUDE USING gist (span WITH &&)",
                  "ALTER TABLE {table} ADD COLUMN span int4range DEFAULT '[1,3)', ADD EXCLUDE USING gist (int4range(ascii(code), (ascii(code) + 1)) WITH &&, span WITH &&)"));

      assertThat(p.findings()).noneMatch(f -> f.severity() == Severity.BLOCKER);
      assertThat(p.findings())
          .as("nothing is left to the run")
          .noneMatch(f -> f.rule().equals("duplicate-in-unique") || f.rule().equals("not-counted"));
      Run run = world.run(p);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    }
  }

  private static final String PORT =
      "ALTER TABLE fares.port ADD COLUMN number integer DEFAULT 7 UNIQUE, ADD COLUMN mark uuid DEFAULT gen_random_uuid() UNIQUE, ADD COLUMN nth integer GENERATED BY DEFAULT AS IDENTITY UNIQUE; ";

  /** What is pointed at only comes with the plan, as do the values that point. */
  @Test
  void keysThatPointAtColumnsThatComeAreCounted() throws IOException {
    try (EngineWorld world = engine()) {
      Promotion p =
          done(
              world,
              List.of(
                  PORT
                      + "ALTER TABLE {table} ADD COLUMN at integer; ALTER TABLE {table} ALTER COLUMN at SET DEFAULT 8, ADD FOREIGN KEY (at) REFERENCES fares.port (number)",
                  "UPDATE {table} SET name = gen_random_uuid()::text; ALTER TABLE {table} ALTER COLUMN name TYPE uuid USING name::uuid; DELETE FROM {table}; ALTER TABLE {table} ADD FOREIGN KEY (name) REFERENCES fares.port (mark)",
                  "ALTER TABLE {table} ADD COLUMN at integer; ALTER TABLE {table} ALTER COLUMN at SET DEFAULT 1, ADD FOREIGN KEY (at) REFERENCES fares.port (nth)",
                  "ALTER TABLE {table} ADD COLUMN at integer GENERATED BY DEFAULT AS IDENTITY CHECK (at < 100)",
                  "ALTER TABLE {table} ADD COLUMN at integer DEFAULT 7 REFERENCES fares.port (number)"));

      assertThat(p.findings())
          .filteredOn(f -> f.severity() == Severity.BLOCKER || f.rule().equals("not-counted"))
          .extracting(
              f ->
                  f.severity()
                      + " "
                      + f.rule()
                      + " "
                      + f.place().replaceFirst("#.*", "")
                      + " "
                      + f.count())
          .containsExactlyInAnyOrder(
              "BLOCKER orphan-in-foreign-key table/fares.t1 3",
              "BLOCKER value-does-not-fit table/fares.t2 3",
              "RISK not-counted table/fares.t3 0",
              "RISK not-counted table/fares.t4 0");
    }
  }

  @Test
  void keysThatPointAtColumnsThatComeGoThroughWhereTheyHoldIt() throws IOException {
    try (EngineWorld world = engine()) {
      Promotion p =
          done(
              world,
              List.of(
                  PORT
                      + "ALTER TABLE {table} ADD COLUMN at integer DEFAULT 7 REFERENCES fares.port (number)",
                  "ALTER TABLE {table} ADD COLUMN at uuid REFERENCES fares.port (mark)",
                  "ALTER TABLE {table} ADD COLUMN at integer DEFAULT 1 REFERENCES fares.port (nth)",
                  "ALTER TABLE {table} ADD COLUMN at integer GENERATED BY DEFAULT AS IDENTITY CHECK (at < 100)"));

      assertThat(p.findings()).noneMatch(f -> f.severity() == Severity.BLOCKER);
      Run run = world.run(p);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    }
  }
}
