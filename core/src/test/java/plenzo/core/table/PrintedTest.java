package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Both sides as PostgreSQL prints them: what was typed, and what was made of the first print. */
class PrintedTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '\0',
      value = {
        "CHECK (((s)::text = ANY ((ARRAY['a'::character varying, 'b'::character varying])::text[]))) | CHECK (((s)::text = ANY (ARRAY[('a'::character varying)::text, ('b'::character varying)::text])))",
        "CHECK (((s)::text <> ALL ((ARRAY['q'::character varying, 'r, ]'::character varying])::text[]))) | CHECK (((s)::text <> ALL (ARRAY[('q'::character varying)::text, ('r, ]'::character varying)::text])))",
        "CHECK ((((s)::text = ANY ((ARRAY['it''s'::character varying])::text[])) OR (c <> 'x'::bpchar))) | CHECK ((((s)::text = ANY (ARRAY[('it''s'::character varying)::text])) OR (c <> 'x'::bpchar)))",
        "(n = ANY ((ARRAY[1, f(2, 3)])::bigint[])) | (n = ANY (ARRAY[(1)::bigint, (f(2, 3))::bigint]))",
        "(c = ANY ((ARRAY['x'::bpchar, 'y'::bpchar])::character(3)[])) | (c = ANY (ARRAY[('x'::bpchar)::character(3), ('y'::bpchar)::character(3)]))",
        "(t = ANY ((ARRAY[a, b])::timestamp(3) without time zone[])) | (t = ANY (ARRAY[(a)::timestamp(3) without time zone, (b)::timestamp(3) without time zone]))",
        "CHECK ((EXTRACT(YEAR FROM d) > (3)::numeric)) | CHECK ((EXTRACT(year FROM d) > (3)::numeric))",
        "CHECK ((((i = 1) AND (n = (2)::numeric)) AND (ROW(i, n) < ROW(3, (4)::numeric)))) | CHECK (((i = 1) AND (n = (2)::numeric) AND (ROW(i, n) < ROW(3, (4)::numeric))))",
        "WHERE ((EXTRACT(Month FROM d) = ANY ((ARRAY[1, EXTRACT(DAY FROM e)])::numeric[])) AND b) | WHERE ((EXTRACT(month FROM d) = ANY (ARRAY[(1)::numeric, (EXTRACT(day FROM e))::numeric])) AND b)",
      })
  void whatIsPrintedOtherwiseTheSecondTimeIsToldByThat(String first, String second) {
    assertThat(Printed.of(first.strip())).isEqualTo(second.strip());
    assertThat(Printed.of(second.strip())).as("it stays so").isEqualTo(second.strip());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "CHECK ((a = '(ARRAY[''x''::character varying])::text[]'::text) AND (b))",
        "'EXTRACT(YEAR FROM d)'::text || \"EXTRACT(YEAR FROM d)\"",
        "my_EXTRACT(YEAR FROM d)",
        "(ARRAY[]::character varying[])::text[]",
        "(ARRAY[ARRAY['a'::character varying], ARRAY['b'::character varying]])::text[]",
        "((a) OR (b)) AND (c)",
        "(((a) OR (b)) AND (c))",
        "((a) AND ((b) AND (c)))",
        "(E'\\\\'' AND (' || ')')",
        "(ARRAY['a'::text])[1]",
        "CHECK ((x AND (y",
      })
  void whatIsPrintedTheSameIsLeftAsItIs(String print) {
    assertThat(Printed.of(print)).isEqualTo(print);
  }

  /** It comes from outside: what nobody writes is left as it is, and costs little. */
  @Test
  void whatIsNestedBeyondReasonIsLeftAsItIs() {
    String deep = "(".repeat(100_000) + "a) AND (b" + ")".repeat(100_000);
    assertThat(Printed.of(deep)).isEqualTo(deep);
    String lists = "(ARRAY[".repeat(20_000) + "a" + "])::text[]".repeat(20_000);
    assertThat(Printed.of(lists))
        .startsWith("ARRAY[(ARRAY[(")
        .hasSizeLessThan(lists.length() + 900);
    String open = "(".repeat(100_000) + ") AND (";
    assertThat(Printed.of(open)).isEqualTo(open);
  }

  @Test
  void partsOfATableAreToldSo() {
    String once = "CHECK ((EXTRACT(YEAR FROM d) > (3)::numeric))";
    String twice = "CHECK ((EXTRACT(year FROM d) > (3)::numeric))";
    assertThat(
            new Constraint(
                "k",
                Constraint.Type.CHECK,
                once,
                java.util.List.of("d"),
                null,
                java.util.List.of()))
        .extracting(Constraint::definition)
        .isEqualTo(twice);
    assertThat(
            new Index("i", false, "CREATE INDEX i ON fares.t USING btree (EXTRACT(YEAR FROM d))"))
        .extracting(Index::definition)
        .isEqualTo("CREATE INDEX i ON fares.t USING btree (EXTRACT(year FROM d))");
    assertThat(new Setting("rule/r", "WHERE (EXTRACT(YEAR FROM d) > 1)").value())
        .isEqualTo("WHERE (EXTRACT(year FROM d) > 1)");
  }

  /** Both by a server of version 15: the first time, and once it had read that. */
  @Test
  void aCastNamesAColumnThatHadNoName() {
    String first =
        """
          UNION ALL
          SELECT 'z'::text,
          'q'::character varying,
          1.5,
          'b'::bpchar,
          NULL::timestamp with time zone,
          NULL::text[],
          '00:00:06'::interval,
          false,
          '1'::"bit",
          '11:00:00'::time without time zone,
          now() AS now,
          2,
          3,
          'b'::t.mood,
          'y'::"char",
          NULL::t.mood[],
          '1'::bit varying,
          NULL::integer[],
          NULL::character varying[]
          """;
    String second =
        """
          UNION ALL
          SELECT 'z'::text AS text,
          'q'::character varying AS "varchar",
          1.5,
          'b'::bpchar AS bpchar,
          NULL::timestamp with time zone AS timestamptz,
          NULL::text[] AS text,
          '00:00:06'::interval AS "interval",
          false,
          '1'::"bit" AS "bit",
          '11:00:00'::time without time zone AS "time",
          now() AS now,
          2,
          3,
          'b'::t.mood AS mood,
          'y'::"char" AS "char",
          NULL::t.mood[] AS mood,
          '1'::bit varying AS varbit,
          NULL::integer[] AS int4,
          NULL::character varying[] AS "varchar"
          """;

    assertThat(Printed.of(second)).isEqualTo(Printed.of(first)).isEqualTo(first);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "SELECT 'x'::text AS name",
        "SELECT 'x'::text AS \"Text\"",
        "SELECT '::text AS text'",
        "SELECT now() AS now",
        "SELECT '1'::integer AS integer",
        "SELECT 'x'::text AS texts"
      })
  void aNameOfAnothersChoiceStays(String statement) {
    assertThat(Printed.of(statement)).isEqualTo(statement);
  }
}
