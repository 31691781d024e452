package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CanonicalValueTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "smallint | +07 | 7",
        "integer | -0 | 0",
        "bigint | 9223372036854775807 | 9223372036854775807",
        "numeric(6,2) | 3 | 3.00",
        "numeric(6,2) | 3.5 | 3.50",
        "numeric(6,2) | 3.500 | 3.50",
        "numeric(6,2) | 1e3 | 1000.00",
        "numeric(6,2) | -0 | 0.00",
        "numeric(6,2) | 9999.99 | 9999.99",
        "numeric(6,2) | nan | NaN",
        "numeric(3,0) | 12. | 12",
        "numeric(3,-2) | 300 | 300",
        "numeric | 3.10 | 3.10",
        "numeric | 1e3 | 1000",
        "numeric | .5 | 0.5",
        "numeric | infinity | Infinity",
        "boolean | TRUE | t",
        "boolean | off | f",
        "uuid | {A0EEBC99-9C0B-4EF8-BB6D-6BB9BD380A11} | a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11",
        "bytea | \\xAB01 | \\xab01",
        "date | 2026-02-28 | 2026-02-28",
        "date | -Infinity | -infinity",
        "time without time zone | 06:30 | 06:30:00",
        "timestamp without time zone | 2026-04-01T06:30 | 2026-04-01 06:30:00",
        "timestamp without time zone | 2026-04-01 06:30:00.500 | 2026-04-01 06:30:00.5",
        "timestamp with time zone | 2026-04-01 06:30:00+02 | 2026-04-01 04:30:00+00",
        "timestamp with time zone | 2026-04-01T00:30:00Z | 2026-04-01 00:30:00+00",
        "timestamp(3) without time zone | 2026-04-01 06:30:00.123 | 2026-04-01 06:30:00.123",
        "character varying(3) | abc | abc",
        "text | whatever | whatever",
        "jsonb | {\"a\":1} | {\"a\":1}",
        "integer[] | {1,2} | {1,2}",
      })
  void isWhatTheServerPrints(String type, String text, String canonical) {
    assertThat(CanonicalValue.of(type, text)).isEqualTo(canonical);
    assertThat(CanonicalValue.of(type, canonical)).as("it stays so").isEqualTo(canonical);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "smallint | 32768 | out of the range",
        "integer | 3.0 | no whole number",
        "integer | ' ' | no whole number",
        "numeric(6,2) | 3.005 | more than 2 decimals",
        "numeric(6,2) | 10000 | more than 4 digits",
        "numeric(3,-2) | 350 | more than -2 decimals",
        "numeric | 1e999999 | no number",
        "numeric(6,2) | three | no number",
        "boolean | maybe | neither true nor false",
        "uuid | a0eebc99 | no UUID",
        "bytea | \\xabc | hexadecimal",
        "date | 2026-02-30 | no date",
        "date | 28.02.2026 | no date",
        "timestamp with time zone | 2026-04-01 06:30:00 | with its offset",
        "timestamp without time zone | 2026-04-01 06:30:00.1234567 | more than 6 decimals",
        "timestamp(0) without time zone | 2026-04-01 06:30:00.5 | more than 0 decimals",
        "character varying(3) | abcd | longer than 3",
        "character(2) | abc | longer than 2",
      })
  void isRefusedRatherThanRounded(String type, String text, String why) {
    assertThatThrownBy(() -> CanonicalValue.of(type, text))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(why);
  }

  @Test
  void padsFixedTexts() {
    assertThat(CanonicalValue.of("character(4)", "ab")).isEqualTo("ab  ");
  }

  private static List<String> rows(String csv) {
    List<String> out = new ArrayList<>();
    try (RowReader rows =
        new CanonicalRows(new ByteArrayInputStream(csv.getBytes(StandardCharsets.UTF_8)), 1)) {
      for (Row row = rows.next(); row != null; row = rows.next()) {
        out.add(new String(row.raw(), StandardCharsets.UTF_8));
      }
    }
    return out;
  }

  @Test
  void everyValueOfARowIsReadSo() {
    assertThat(
            rows(
                "\"code\",\"amount\"\n\"integer\",\"numeric(6,2)\"\n\"01\",\"3\"\n\"2\",\"4.00\"\n\"3\",\n"))
        .containsExactly("\"1\",\"3.00\"", "\"2\",\"4.00\"", "\"3\",");
  }

  @Test
  void aRefusedValueIsNamedByRowAndColumn() {
    assertThatThrownBy(
            () -> rows("\"code\",\"amount\"\n\"text\",\"numeric(6,2)\"\n\"DAY\",\"3.005\"\n"))
        .hasMessageContaining("In row \"DAY\" the value of amount \"3.005\" has more than 2");
  }

  /** A number is the same however its column prints it; texts and approximate numbers are not. */
  @ParameterizedTest(name = "{0} {1}, {2} {3}")
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      value = {
        "integer | 30 | numeric(5,2) | 30.00 | true",
        "numeric(5,2) | 30.00 | bigint | 30 | true",
        "numeric | 1e3 | integer | 1000 | true",
        "integer | 30 | numeric(5,2) | 30.01 | false",
        "numeric | NaN | integer | 1 | false",
        "integer | - | numeric(5,2) | 0.00 | false",
        "integer | - | numeric(5,2) | - | true",
        "text | 30 | text | 30.00 | false",
        "text | 30 | numeric(5,2) | 30.00 | false",
        "real | 0.1 | numeric(5,2) | 0.10 | false"
      })
  void tellsTheSameNumber(
      String type, @Nullable String value, String otherType, @Nullable String other, boolean same) {
    assertThat(CanonicalValue.same(type, value, otherType, other)).isEqualTo(same);
  }
}
