package plenzo.connectors.database.sql;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * A type becomes another directly where the server knows how, and by its text where it does not.
 */
class CastsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "integer | bigint | c::bigint",
        "numeric(10,3) | integer | c::integer",
        "text | date | c::date",
        "date | character varying(4) | c::character varying(4)",
        "timestamp(3) without time zone | date | c::date",
        "timestamp(3) without time zone | timestamp(0) without time zone | c::timestamp(0) without time zone",
        "fares.sea | fares.sea | c::fares.sea",
        "bit(3) | bit(5) | c::bit(5)",
        "date | integer | c::text::integer",
        "bigint | date | c::text::date",
        "boolean | numeric(3,0) | c::text::numeric(3,0)",
        "date[] | integer[] | c::text::integer[]",
        "fares.sea | integer | c::text::integer",
        "interval | date | c::text::date",
      })
  void isSaid(String from, String to, String said) {
    assertThat(Casts.of("c", from, to)).isEqualTo(said);
  }
}
