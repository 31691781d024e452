package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.version.VersionEntry;

/** How columns stand is kept beside the structure, and told apart from what is not known. */
class ColumnPlacesTest {
  private static final ColumnPlaces FERRY =
      new ColumnPlaces(List.of("code", "name", "cars"), Set.of("name"));

  private static ColumnPlaces ordered(List<String> names) {
    return new ColumnPlaces(names, null);
  }

  private static ColumnPlaces again(ColumnPlaces places) {
    return ColumnPlaces.of(Json.parseObject(places.toJson().canonical()));
  }

  @Test
  void itIsReadAsItWasWritten() {
    assertThat(again(FERRY)).isEqualTo(FERRY);
    assertThat(again(ordered(List.of("b", "a")))).isEqualTo(ordered(List.of("b", "a")));
    assertThat(again(new ColumnPlaces(List.of("a"), Set.of())).handed()).isEmpty();
    assertThat(ColumnPlaces.NOT_KNOWN.toJson().members()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({
    "a b c, a b c, ''",
    "a b c, c a b, a b c",
    "a b c, c x a, a c",
    "a b, b y a z, a b",
    "a x b, a b y, ''",
    "a b, '', ''"
  })
  void onlyWhatBothHaveIsHeldAgainstOneAnother(String here, String there, String said) {
    assertThat(String.join(" ", places(here).otherwise(places(there)))).isEqualTo(said);
  }

  private static ColumnPlaces places(String names) {
    return ordered(names.isEmpty() ? List.of() : List.of(names.split(" ")));
  }

  @Test
  void whatComesStandsBehindWhatIsThere() {
    assertThat(FERRY.with(ordered(List.of("deck", "cars", "age", "code"))))
        .isEqualTo(
            new ColumnPlaces(List.of("code", "name", "cars", "deck", "age"), Set.of("name")));
  }

  @Test
  void itFollowsNames() {
    assertThat(FERRY.named(Map.of("name", "title", "cars", "places")))
        .isEqualTo(new ColumnPlaces(List.of("code", "title", "places"), Set.of("title")));
  }

  @Test
  void anEntryKeepsItBesideNamesAndConversions() {
    VersionEntry entry = entry(VersionEntry.options(FERRY));

    assertThat(entry.places()).isEqualTo(FERRY);
    assertThat(entry.renaming(Map.of("title", "name")).places()).isEqualTo(FERRY);
    assertThat(VersionEntry.options(ColumnPlaces.NOT_KNOWN)).isNull();
    assertThat(entry(null).places()).isEqualTo(ColumnPlaces.NOT_KNOWN);
    assertThat(entry("{\"columns\":[\"b\",\"a\"]}").places())
        .as("as versions were written before it was known which are handed down")
        .isEqualTo(ordered(List.of("b", "a")));
  }

  private static VersionEntry entry(@Nullable String options) {
    return new VersionEntry(
        ComponentKey.of("table/fares.ferry"), "u", Digest.of("x"), options, 0, "");
  }
}
