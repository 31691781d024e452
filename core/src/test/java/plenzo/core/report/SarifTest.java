package plenzo.core.report;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.InputStream;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;

/** Findings as the standard wants them: checked against its own schema. */
class SarifTest {
  private static Finding finding(Severity severity, Finding.Acceptance accepted) {
    return new Finding(
        "narrowed-column",
        severity,
        "table/fares.band#column/name",
        "3 rows are longer.",
        3,
        3,
        "Shorten them first.",
        List.of("secret example"),
        "SELECT 1",
        accepted,
        null,
        null);
  }

  private static Schema schema() throws Exception {
    try (InputStream in = SarifTest.class.getResourceAsStream("/schema/sarif-schema-2.1.0.json")) {
      return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_7).getSchema(in);
    }
  }

  @Test
  void isWhatTheStandardAsksFor() throws Exception {
    String sarif =
        Sarif.of(
            List.of(
                finding(Severity.BLOCKER, null),
                finding(
                    Severity.RISK,
                    new Finding.Acceptance("bram", "Agreed", LocalDate.parse("2027-04-01"))),
                finding(Severity.NOTE, null)),
            "P-7: fares 2.4.0 to production/north",
            "0.1.0");

    assertThat(schema().validate(sarif, InputFormat.JSON)).isEmpty();
    assertThat(sarif)
        .contains(
            "\"level\":\"error\"",
            "\"level\":\"warning\"",
            "\"level\":\"note\"",
            "\"justification\":\"Agreed (bram, until 2027-04-01)\"")
        .doesNotContain("secret example");
    assertThat(
            schema()
                .validate(
                    sarif.replace("\"version\":\"2.1.0\"", "\"version\":\"9\""), InputFormat.JSON))
        .as("the schema refuses what is none")
        .isNotEmpty();
  }

  @Test
  void withoutFindingsItIsWholeToo() throws Exception {
    assertThat(schema().validate(Sarif.of(List.of(), "x", "0.1.0"), InputFormat.JSON)).isEmpty();
  }
}
