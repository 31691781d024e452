package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A default that is one value, as the server prints it. */
class ConstantDefaultTest {
  private static ConstantDefault of(String type, String text) {
    return ConstantDefault.of(new Column("c", type, false, text, null, null, null, null));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "text | 'calm'::text | calm",
        "text | 'it''s'::character varying(40) | it's",
        "fares.sea | 'calm'::fares.sea | calm",
        "x | 'calm'::\"Odd \"\"schema\"\"\".\"Type.name\" | calm",
        "text[] | '{a,b}'::text[] | {a,b}",
        "integer | -7 | -7",
        "boolean | true | t",
        "timestamp with time zone | '2026-01-01 00:00:00+00'::timestamp with time zone | 2026-01-01 00:00:00+00",
      })
  void isRead(String type, String text, String value) {
    assertThat(of(type, text).value()).isEqualTo(value);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "now()",
        "nextval('fares.s'::regclass)",
        "('a'::text || 'b'::text)",
        "CURRENT_USER",
        "concat('a'::text, f())",
      })
  void whatIsWorkedOutIsNone(String text) {
    assertThat(of("text", text).value()).isNull();
  }

  @Test
  void numbersAreComparedAsNumbers() {
    assertThat(of("numeric(8,2)", "1.50").is("1.5")).isTrue();
    assertThat(of("text", "'1.50'::text").is("1.5")).isFalse();
    assertThat(of("numeric", "0").is("NaN")).isFalse();
  }
}
