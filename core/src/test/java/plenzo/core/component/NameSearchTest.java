package plenzo.core.component;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A component is found by what people call it. */
class NameSearchTest {
  @ParameterizedTest
  @CsvSource({
    // part of the name, in any case
    "rule/fares.surcharge, SURCH, true",
    // the kind in people's own words, singular or plural
    "rule/fares.surcharge, automation, true",
    "rule/fares.surcharge, workflows, true",
    "table/fares.booking, structure, true",
    "records/fares.band, reference, true",
    "form/fares.desk, screen, true",
    // not that of another kind
    "form/fares.desk, automation, false",
    // every word must be met
    "rule/fares.surcharge, automation surch, true",
    "rule/fares.surcharge, automation band, false",
    // a uid by its beginning, and nothing too short for one
    "rule/fares.surcharge, 1a2b3c, true",
    "rule/fares.surcharge, 1a2b, false",
    // too short to be a kind
    "rule/fares.surcharge, wo, false",
    "rule/fares.surcharge, '', true",
  })
  void isFound(String key, String text, boolean found) {
    assertThat(NameSearch.meets(text, ComponentKey.of(key), "1a2b3c4d5e6f")).isEqualTo(found);
  }

  @ParameterizedTest
  @CsvSource({
    "grants, true",
    "desk permission, true",
    "grant/fares.band.desk, true",
    "'', false",
    "desk, false",
    "gr, false",
  })
  void aTextAsksForAKindByItsWords(String text, boolean asks) {
    assertThat(NameSearch.names(text, Kind.GRANT)).isEqualTo(asks);
  }
}
