package plenzo.core.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** One document in three forms; what comes from outside is text in each. */
class ReportTest {
  private static final Instant AT = Instant.parse("2027-03-10T22:00:00Z");

  private static Report report(String cell) {
    return new Report.Builder("P-7: fares", AT)
        .facts("What", "Version", "2.4.0", "Notes", cell, "Empty", " ", "None", null)
        .table("Runs", "none", List.of("run", "said"), List.of(Report.row("R-9", cell)))
        .table("Nothing", "It never ran.", List.of("run"), List.of())
        .build();
  }

  @Test
  void saysTheSameInMarkdownAndHtml() {
    Report r = report("done");

    assertThat(r.markdown())
        .isEqualTo(
            """
            # P-7: fares

            Made 2027-03-10T22:00:00Z (UTC).

            ## What

            - Version: 2.4.0
            - Notes: done

            ## Runs

            | run | said |
            | --- | --- |
            | R-9 | done |

            ## Nothing

            It never ran. \s

            """);
    assertThat(r.html())
        .contains(
            "<h1>P-7: fares</h1>",
            "<dt>Version</dt><dd><pre>2.4.0</pre></dd>",
            "<th scope=\"col\">run</th>",
            "<td>R-9</td><td>done</td>",
            "<pre>It never ran.</pre>")
        .doesNotContain("Empty", "None");
  }

  @Test
  void whatComesFromOutsideIsNeverMarkup() {
    Report r = report("<script>x</script> | [a](b) \u202Eevil\nnext");

    assertThat(r.html())
        .contains("&lt;script&gt;x&lt;/script&gt;", "\\u202Eevil")
        .doesNotContain("<script>");
    assertThat(r.markdown())
        .contains("\\<script\\>x\\</script\\> \\| \\[a\\](b) ", "u202Eevil next |")
        .doesNotContain("\u202E");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      quoteCharacter = '~',
      value = {
        "plain;plain",
        "a,b;\"a,b\"",
        "say \"hi\";\"say \"\"hi\"\"\"",
        "=1+2;'=1+2",
        "@sum;'@sum",
        "-3.5;-3.5",
        "-x;'-x",
      })
  void aCellIsQuotedAndIsNoFormula(String cell, String written) {
    Report.Section s =
        new Report.Section("x", "", List.of(), List.of("a", "b"), List.of(List.of(cell, "1")));

    assertThat(s.csv()).isEqualTo("a,b\r\n" + written + ",1\r\n");
  }

  @Test
  void aRowHasAsManyCellsAsThereAreHeads() {
    assertThatIllegalArgumentException()
        .isThrownBy(
            () -> new Report.Section("x", "", List.of(), List.of("a", "b"), List.of(List.of("1"))));
  }
}
