package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class KeyTypeTest {
  private static List<String> sorted(String type, String... values) {
    return Stream.of(values).sorted(KeyType.of(type)::compare).toList();
  }

  @Test
  void ordersTextByItsBytesAndNotByTheUnitsOfJava() {
    assertThat(sorted("text", "\uFFFD", "\uD83D\uDE00", "z", "Z", "é", ""))
        .containsExactly("", "Z", "z", "é", "\uFFFD", "\uD83D\uDE00");
  }

  @Test
  void ordersNumbersByTheirValue() {
    assertThat(sorted("bigint", "10", "9", "-3", "9223372036854775807"))
        .containsExactly("-3", "9", "10", "9223372036854775807");
    assertThat(sorted("numeric(6,2)", "10.5", "9", "-0.25")).containsExactly("-0.25", "9", "10.5");
  }

  @Test
  void ordersDatesOfFiveDigitYearsAndWithoutEnd() {
    assertThat(sorted("date", "infinity", "10000-01-01", "2026-11-24", "-infinity", "2026-02-24"))
        .containsExactly("-infinity", "2026-02-24", "2026-11-24", "10000-01-01", "infinity");
  }

  @ParameterizedTest
  @ValueSource(strings = {"character(4)", "bytea", "inet", "fares.vehicle", "\"Fares\".\"Band\""})
  void ordersOthersByWhatTheyPrint(String type) {
    assertThat(sorted(type, "b", "\\xab", "B", "10.0.0.1/24", "10.0.0.1"))
        .containsExactly("10.0.0.1", "10.0.0.1/24", "B", "\\xab", "b");
  }

  /** As PostgreSQL orders numeric, and then by what it prints. */
  @Test
  void numbersOfAnyScaleAreToldByTheirZerosToo() {
    assertThat(sorted("numeric", "NaN", "10", "1.50", "Infinity", "1.5", "-Infinity", "9", "-2"))
        .containsExactly("-Infinity", "-2", "1.5", "1.50", "9", "10", "Infinity", "NaN");
    assertThat(KeyType.of("numeric(6,2)").compare("1.5", "1.50")).isZero();
    assertThat(KeyType.of("numeric").compare("1.5", "1.50")).isNegative();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "jsonb",
        "double precision",
        "text[]",
        "fares.band[]",
        "public.citext",
        "point",
        "interval"
      })
  void whatHasNoSharedOrderIsToldByWhatItPrints(String type) {
    assertThat(KeyType.of(type)).isEqualTo(KeyType.BY_TEXT);
    assertThat(KeyType.of(type).compare("10", "9")).isNegative();
  }
}
