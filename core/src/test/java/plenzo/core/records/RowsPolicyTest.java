package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.comparison.Counts;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.RowsUnderPolicy;

/** How rows of a version meet those of a site. */
class RowsPolicyTest {
  private static final ComponentKey ROWS = ComponentKey.of("records/fares.band");
  private static final RecordsDefinition PLAIN =
      new RecordsDefinition(TableName.of("fares.band"), List.of("code"), null);

  @ParameterizedTest
  @EnumSource(RowsPolicy.class)
  void isReadAsItIsWritten(RowsPolicy policy) {
    assertThat(RowsPolicy.of(policy.code())).isEqualTo(policy);
    assertThat(RecordsDefinition.of(PLAIN.with(policy).toJson())).isEqualTo(PLAIN.with(policy));
    assertThat(PLAIN.with(policy).sameRows(PLAIN)).isTrue();
  }

  /** Versions of before have none: their digests stay. */
  @Test
  void theOrdinaryOneIsNotWritten() {
    assertThat(PLAIN.toJson().canonical())
        .isEqualTo("{\"key\":[\"code\"],\"table\":\"fares.band\"}");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "zone = 'N'",
        "zone = 'it''s' and not (note is null)",
        "(a = '1' or b < '2') and c >= '3'",
        "not (a = '1' and b = '2')",
      })
  void aConditionIsWrittenAsItIsRead(String text) {
    assertThat(ConditionText.text(ConditionText.of(text))).isEqualTo(text);
  }

  @Test
  void saysWhichRowsTheyAre() {
    assertThat(PLAIN.words()).isEqualTo("by code");
    assertThat(
            new RecordsDefinition(
                    TableName.of("fares.band"),
                    List.of("code", "zone"),
                    ConditionText.of("zone <> 'N'"),
                    RowsPolicy.ADD_ONLY)
                .words())
        .isEqualTo("by code, zone; only zone <> 'N'; add only");
  }

  @Test
  void anotherWordIsRefused() {
    assertThatThrownBy(() -> RowsPolicy.of("replace"))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("mirror");
  }

  private static List<String> said(RowsPolicy policy, Counts counts) {
    return RowsUnderPolicy.of(ROWS, policy, counts).stream()
        .map(f -> f.severity() + " " + f.sentence())
        .toList();
  }

  @Test
  void whatItDoesIsSaidBefore() {
    assertThat(said(RowsPolicy.MIRROR, new Counts(1, 0, 1, 0, 0, 5)))
        .containsExactly("RISK records/fares.band is a mirror: 1 row that only the site has goes.");
    assertThat(said(RowsPolicy.ADD_ONLY, new Counts(1, 0, 0, 0, 1, 5)))
        .containsExactly(
            "NOTE records/fares.band is add only: 1 row that the site has otherwise, or alone, stays as it is.");
    assertThat(said(RowsPolicy.MIRROR, new Counts(1, 2, 0, 0, 0, 5))).isEmpty();
    assertThat(said(RowsPolicy.ADD_ONLY, new Counts(1, 0, 0, 0, 0, 5))).isEmpty();
    assertThat(said(RowsPolicy.ADD_AND_CHANGE, new Counts(1, 2, 3, 0, 4, 5))).isEmpty();
    assertThat(RowsUnderPolicy.of(ROWS, RowsPolicy.MIRROR, new Counts(0, 0, 7, 0, 0, 0)))
        .map(Finding::count)
        .contains(7L);
  }
}
