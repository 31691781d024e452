package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

class SheetTest {
  private static final Instant AT = Instant.parse("2027-03-02T22:00:00Z");

  @Test
  void isReadAsItWasWritten() {
    Sheet sheet =
        new Sheet(
            AT,
            List.of(
                new Sheet.Line(
                    "rule/fares.peak",
                    "production/main host",
                    "changed",
                    true,
                    "there",
                    false,
                    true,
                    List.of("terminal"),
                    "bo",
                    AT),
                new Sheet.Line(
                    "records/fares.band",
                    "production/main database",
                    "1 added",
                    false,
                    "3 rows",
                    null,
                    null,
                    List.of(),
                    null,
                    null)),
            7,
            List.of("records/fares.band: 1 row"),
            List.of("trigger fares.audit on fares.band"));

    assertThat(Sheet.of(sheet.text())).isEqualTo(sheet);
    assertThat(sheet.asPlanned()).isFalse();
  }
}
