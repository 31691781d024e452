package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Sheets.SheetLine;
import plenzo.api.Sheets.SheetView;

class SheetTest {
  private static final Instant AT = Instant.parse("2027-03-02T22:00:00Z");

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static SheetLine line(
      boolean asPlanned, @Nullable Boolean active, @Nullable Boolean visible, String... unbound) {
    return new SheetLine(
        "rule/fares.peak",
        "production/north host",
        "changed",
        asPlanned,
        "there",
        active,
        visible,
        List.of(unbound),
        active == null ? null : "bo",
        active == null ? null : AT);
  }

  private String sheet(boolean asPlanned, int more, List<String> odd, SheetLine... lines) {
    server.give(
        "GET /runs/R-3/sheet",
        new SheetView(
            "R-3", AT, asPlanned, List.of(lines), more, odd, List.of("view fares.cheap")));
    return server.client("run", "sheet", "R-3").out();
  }

  @Test
  void eachComponentIsALine() {
    assertThat(sheet(true, 0, List.of(), line(true, false, false, "terminal")))
        .contains("everything that was looked at is as planned")
        .containsSubsequence(
            "rule/fares.peak",
            "changed",
            "there",
            "as planned",
            "off, not visible, without a value: terminal",
            "by bo",
            "production/north host")
        .contains("Stands there and is not carried: view fares.cheap.")
        .doesNotContain("more");
  }

  @Test
  void whatIsNotAsPlannedComesFirst() {
    assertThat(sheet(false, 3, List.of("table fares.extra is there"), line(false, null, null)))
        .containsSubsequence(
            "not as planned:", "! table fares.extra is there", "rule/fares.peak", "not as planned")
        .contains("and 3 components more.");
  }
}
