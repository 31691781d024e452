package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.SQLException;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;

/**
 * Expressions as people write them, in every place that has some: what is made of the server's
 * print is what was there. Of a few it prints other words once it has read its own.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class PrintedOnServerTest {
  private static final List<String> CONDITIONS =
      List.of(
          "s IN ('a', 'b')",
          "s NOT IN ('q', 'it''s')",
          "c IN ('x', 'y')",
          "n IN (1, 2) AND i IN (1, 2, NULL) AND b IN (1, 2)",
          "s = ANY (ARRAY['a', 'b'])",
          "coalesce(s, 'x') IN ('x', 'y')",
          "s::varchar(3) IN ('x') OR c NOT IN ('x') OR a IN ('q')",
          "s LIKE 'a%' AND s ~ 'b' AND s ILIKE 'x' AND a NOT LIKE 'z' ESCAPE '!'",
          "a LIKE ANY (ARRAY['a%', 'b%']) AND a SIMILAR TO 'x%'",
          "d BETWEEN '2020-01-01' AND '2021-01-01' AND n BETWEEN SYMMETRIC 3 AND 1",
          "extract('YEAR' FROM d) > 3 AND extract(month FROM d) IN (1, 2)",
          "extract(EPOCH FROM t) > 3 AND date_part('YEAR', d) > 3",
          "CASE s WHEN 'a' THEN true WHEN 'b' THEN n > 1 ELSE false END",
          "(CASE WHEN s = 'a' THEN 1 WHEN s = 'b' THEN NULL END) IS NOT NULL",
          "overlay(a PLACING 'x' FROM 1 FOR 2) <> '' AND position('x' IN a) > 0",
          "substring(a FROM 1 FOR 2) <> 'x' AND trim(BOTH 'x' FROM a) <> ''",
          "interval '1 day' > '2 hours' AND d - interval '1 month' < t",
          "a IS DISTINCT FROM 'x' AND a IS NOT NULL AND (n > 1) IS NOT UNKNOWN",
          "f > 1.5 AND f < 1e10 AND i > -1 AND (- i) < 3 AND -2147483648 < i",
          "(d AT TIME ZONE 'UTC') IS NOT NULL AND normalize(a) IS NORMALIZED",
          "row(i, n) = row(1, 2) AND (i, n) < (3, 4)",
          "(i, n) IN ((1, 2), (3, 4)) AND a > 'x'",
          "(i, n) NOT IN ((1, 2)) OR row(a, s) <> row('x', 'y')",
          "a COLLATE \"C\" > 'x' AND a::\"char\" = 'x' AND f::numeric(3,1) > 1",
          "(string_to_array(a, ','))[1:2] = '{a}' AND ARRAY[i] @> ARRAY[1]",
          "i <> ALL (ARRAY[1, 2]) AND s <> ALL (ARRAY['x', s])",
          "nullif(s, '') IS NOT NULL AND greatest(s, 'x') <> 'y' AND length(s) > 0",
          "cast(n AS varchar(3)) IN ('1', '2') AND n::int::bool",
          "i & 3 = 1 AND i << 1 > 2 AND i # 2 > 0 AND |/ n > 2 AND n ^ 2 > 1",
          "jsonb_build_object('a', i) ->> 'a' = '1' AND ('{\"a\":1}'::jsonb) ? 'a'",
          "'a' || s || c <> '' AND (s || i) <> 'x' AND format('%s', s) <> ''",
          "a ~* E'^\\\\d+$' AND regexp_replace(a, E'\\n', '\\') <> ''",
          "s IN ('a') AND (s IN ('b', 'c') OR (n > 1 AND i > 1) AND (b > 2 OR b < 1))",
          "(s IN ('(ARRAY[', ')::text[]') AND a <> 'EXTRACT(YEAR FROM d)')");

  private EmbeddedPostgres server;
  private SchemaPair pair;

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("printed");
    pair = new SchemaPair(server.getPort());
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void begin() throws SQLException {
    pair.begin();
  }

  private void comes(String... statements) throws SQLException {
    pair.sql(
        "wanted",
        "CREATE TABLE fares.t (s varchar(10), c char(3), n numeric, d date, a text, f real, i integer, b bigint, t timestamptz)");
    pair.sql("wanted", statements);

    pair.bring();

    SchemaPair.Held wanted = pair.held("wanted");
    SchemaPair.Held site = pair.held("site");
    assertThat(site.tables()).isEqualTo(wanted.tables());
    assertThat(site.objects()).isEqualTo(wanted.objects());
    assertThat(pair.restored("site")).as("a backup's proof finds it the same").isEmpty();
  }

  private static String[] each(String statement) {
    return java.util.stream.IntStream.range(0, CONDITIONS.size())
        .mapToObj(n -> statement.replace("#", "x" + n).replace("?1", CONDITIONS.get(n)))
        .toArray(String[]::new);
  }

  @Test
  void checksComeAsTheyAre() throws SQLException {
    comes(each("ALTER TABLE fares.t ADD CONSTRAINT # CHECK (?1)"));
  }

  @Test
  void viewsComeAsTheyAre() throws SQLException {
    comes(each("CREATE VIEW fares.# AS SELECT s, (?1) AS is FROM fares.t WHERE ?1 ORDER BY (?1)"));
  }

  @Test
  void rulesTriggersAndPoliciesComeAsTheyAre() throws SQLException {
    comes(each("CREATE POLICY # ON fares.t USING (?1) WITH CHECK (?1)"));
  }

  @Test
  void whatIsComputedAndIndexedComesAsItIs() throws SQLException {
    comes(
        "CREATE INDEX one ON fares.t (n) WHERE s IN ('a', 'b')",
        "CREATE INDEX two ON fares.t ((extract('YEAR' FROM d)))",
        "CREATE UNIQUE INDEX three ON fares.t (i) WHERE (i, n) IN ((1, 2)) AND s NOT IN ('x', 'y')",
        "ALTER TABLE fares.t ADD COLUMN g boolean GENERATED ALWAYS AS (s IN ('a', 'b')) STORED",
        "ALTER TABLE fares.t ADD COLUMN h boolean DEFAULT ('x'::varchar IN ('a', 'b'))",
        "CREATE STATISTICS fares.st ON (extract('YEAR' FROM d)), n FROM fares.t",
        "CREATE DOMAIN fares.kind AS varchar(3) DEFAULT 'a' CHECK (VALUE IN ('a', 'b'))",
        "CREATE RULE off AS ON UPDATE TO fares.t WHERE new.s IN ('a', 'b') DO INSTEAD NOTHING",
        "CREATE FUNCTION fares.f() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN IF new.s IN ('a') THEN RETURN new; END IF; RETURN NULL; END $$",
        "CREATE TRIGGER tr BEFORE UPDATE ON fares.t FOR EACH ROW WHEN (new.s IN ('a', 'b') AND extract('YEAR' FROM new.d) > 1) EXECUTE FUNCTION fares.f()",
        "CREATE MATERIALIZED VIEW fares.m AS SELECT extract('YEAR' FROM d) AS y FROM fares.t WHERE s IN ('a', 'b')");
  }
}
