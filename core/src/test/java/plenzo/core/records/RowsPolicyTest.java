package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.TableName;

/** How rows of a version meet those of a site. */
class RowsPolicyTest {
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
}
