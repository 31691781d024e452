package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Rows are read as they were written, however their bytes arrive, or refused. */
class RowReaderTest {
  private static final Header HEADER =
      new Header(List.of("n", "a", "b"), List.of("bigint", "text", "text"), 1);

  /** A stream that gives a few bytes at a time. */
  private static InputStream dripping(byte[] bytes, Random random) {
    return new ByteArrayInputStream(bytes) {
      @Override
      public synchronized int read(byte[] to, int from, int length) {
        return super.read(to, from, Math.min(length, 1 + random.nextInt(40)));
      }
    };
  }

  private static String some(Random random) {
    String[] parts = {"", "\"", ",", "\n", "é", "plain words", "0123456789abcdef", "😀", " "};
    StringBuilder out = new StringBuilder();
    for (int n = random.nextInt(6); n > 0; n--) {
      out.append(parts[random.nextInt(parts.length)]);
    }
    return out.toString();
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void asTheyWereWritten(boolean drips) {
    Random random = new Random(11);
    List<List<@Nullable String>> written = new ArrayList<>();
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (int n = 0; n < 3000; n++) {
      List<@Nullable String> fields =
          Arrays.asList(
              Integer.toString(n), some(random), random.nextInt(4) == 0 ? null : some(random));
      written.add(fields);
      out.writeBytes(CanonicalCsv.line(fields));
      out.write('\n');
    }
    String huge = "x".repeat(200_000) + "\"" + "y".repeat(70_000);
    written.add(Arrays.asList("3000", huge, null));
    out.writeBytes(CanonicalCsv.line(written.get(3000)));
    out.write('\n');
    byte[] bytes = out.toByteArray();
    List<List<@Nullable String>> read = new ArrayList<>();

    try (RowReader reader =
        new RowReader(
            drips ? dripping(bytes, random) : new ByteArrayInputStream(bytes), HEADER, true)) {
      for (Row row = reader.next(); row != null; row = reader.next()) {
        read.add(row.fields());
      }
      assertThat(reader.count()).isEqualTo(3001);
      assertThat(reader.next()).isNull();
    }

    assertThat(read).isEqualTo(written);
  }

  private static void all(String text) {
    try (RowReader reader =
        new RowReader(
            new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), HEADER, true)) {
      while (reader.next() != null) {
        assertThat(reader.count()).isPositive();
      }
    }
  }

  @Test
  void whatIsNoRowIsRefused() {
    assertThatThrownBy(() -> all("\"1\",\"a\",\"b\"")).hasMessageContaining("does not end");
    assertThatThrownBy(() -> all("\"1\",\"a\",\"b")).hasMessageContaining("does not end");
    assertThatThrownBy(() -> all("\"1\",a,\"b\"\n")).hasMessageContaining("not quoted");
    assertThatThrownBy(() -> all("\"1\",\"a\"\n")).hasMessageContaining("2 fields, its header 3");
    assertThatThrownBy(() -> all("\"1\",\"a\",\n\"1\",\"a\",\n")).isInstanceOf(TwinRows.class);
    assertThatThrownBy(() -> all("\"10\",\"a\",\n\"9\",\"a\",\n"))
        .hasMessageContaining("\"10\" before \"9\"");
    assertThatThrownBy(() -> all("\"-1\",\"a\",\n\"-2\",\"a\",\n"))
        .hasMessageContaining("do not ascend");
    all(
        "\"-2\",\"a\",\n\"-1\",\"a\",\n\"9\",,\n\"10\",,\n\"999999999999999999\",,\n\"9223372036854775807\",,\n,,\n");
    all("");
  }
}
