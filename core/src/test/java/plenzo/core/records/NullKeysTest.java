package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

/** Rows that all their columns tell apart may have nothing in some of them. */
class NullKeysTest {
  private static final Header HEADER =
      new Header(List.of("route", "off", "said"), List.of("text", "interval", "jsonb"), 3);

  private static Row row(@Nullable String... values) {
    return Row.of(HEADER, Arrays.asList(values));
  }

  @Test
  void whatIsNullComesLastAndIsNotTheEmptyText() {
    assertThat(row("a", null, "1").compareKey(row("a", "zz", "1"))).isPositive();
    assertThat(row("a", "zz", "1").compareKey(row("a", null, "1"))).isNegative();
    assertThat(row("a", null, null).compareKey(row("a", null, null))).isZero();
    assertThat(row("a", "", "1").compareKey(row("a", null, "1"))).isNegative();
    assertThat(row((String) null, "b", "1").compareKey(row("a", "b", "1"))).isPositive();
  }

  @Test
  void namesOfRowsTellThemApart() {
    assertThat(row("a", null, "x").keyLine()).isEqualTo("\"a\",,\"x\"");
    assertThat(row("a", "", "x").keyLine()).isEqualTo("\"a\",\"\",\"x\"");
    assertThat(row("a", null, "x").key()).containsExactly("a", null, "x");
  }

  private static List<String> differences(String present, String incoming) {
    List<String> out = new ArrayList<>();
    RecordsComparison.merge(
        null,
        reader(present),
        reader(incoming),
        (b, row) -> true,
        RecordsComparison.Base.PRESENT,
        d -> out.add(d.difference().code() + " " + d.any().keyLine()));
    return out;
  }

  private static RowReader reader(String rows) {
    return new RowReader(
        new ByteArrayInputStream(
            ("\"a\",\"b\"\n\"text\",\"json\"\n" + rows).getBytes(StandardCharsets.UTF_8)),
        2);
  }

  @Test
  void areHeldAgainstOneAnother() {
    assertThat(
            differences(
                "\"x\",\"[1]\"\n\"x\",\n,\"[2]\"\n,\n", "\"x\",\"[1]\"\n\"x\",\"[3]\"\n,\"[2]\"\n"))
        .filteredOn(d -> !d.startsWith("same"))
        .containsExactlyInAnyOrder("added \"x\",\"[3]\"", "removed \"x\",", "removed ,");
  }

  @Test
  void twinsWithNothingInThemAreTwins() {
    assertThatThrownBy(() -> differences("\"x\",\n\"x\",\n", "\"x\",\"[1]\"\n"))
        .isInstanceOf(TwinRows.class)
        .hasMessageEndingWith("\"x\",");
  }
}
