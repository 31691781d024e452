package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;

/** Which schemas of a database belong to an application. */
class ApplicationTest {
  private static Application of(@Nullable List<String> further) {
    return new Application(
        "1",
        "fares",
        "Fares",
        "Desk",
        "",
        Map.of(),
        "fares",
        further,
        List.of("ordinary"),
        List.of(),
        List.of(),
        null,
        null,
        0);
  }

  @Test
  void itHasTheOneOfItsNameAndOthersThatAreSaid() {
    Application a = of(List.of("fares_old"));

    assertThat(a.schemas()).containsExactly("fares", "fares_old");
    assertThat(a.owns(ComponentKey.of("table/fares_old.line"))).isTrue();
    assertThat(a.owns(ComponentKey.of("table/fares_older.line"))).isFalse();
    assertThat(a.owns(ComponentKey.of("rule/fares_old.line")))
        .as("a further schema is one of the database alone")
        .isFalse();
    assertThat(a.retired(new Application.Retired("ines", java.time.Instant.EPOCH, "")).schemas())
        .containsExactly("fares", "fares_old");
  }

  @Test
  void recordsOfBeforeHaveTheOne() {
    assertThat(of(null).schemas()).containsExactly("fares");
  }

  @Test
  void theServersOwnAreNone() {
    for (String schema : List.of("fares", "plenzo", "pg_temp", "information_schema", " ")) {
      assertThatThrownBy(() -> of(List.of(schema)))
          .isInstanceOf(IllegalArgumentException.class)
          .hasMessageContaining("no further schema");
    }
  }
}
