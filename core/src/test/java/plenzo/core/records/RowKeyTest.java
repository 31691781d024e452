package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A key that is told from its bytes is the one that the whole row would tell. */
class RowKeyTest {
  private static Header header(String type, int keyColumns) {
    return new Header(List.of("a", "b", "note"), List.of(type, type, "text"), keyColumns);
  }

  private static Row row(Header header, String a, String b, String note) {
    return Row.of(header, java.util.Arrays.asList(a, b, note));
  }

  @Test
  void theBytesOfAKeyAreThoseOfItsFields() {
    Random random = new Random(7);
    String[] parts = {"", "\"", "\"\"", ",", "\n", "é", "x", "ÿ", "😀", " "};
    Header header = header("text", 2);
    for (int n = 0; n < 2000; n++) {
      String a = parts[random.nextInt(parts.length)] + parts[random.nextInt(parts.length)];
      String b = parts[random.nextInt(parts.length)];
      Row row = row(header, a, b, parts[random.nextInt(parts.length)]);

      assertThat(row.key()).isEqualTo(row.fields().subList(0, 2)).containsExactly(a, b);
    }
  }

  @ParameterizedTest
  @CsvSource({
    "integer,-5,3",
    "integer,9,10",
    "bigint,-9223372036854775808,9223372036854775807",
    "integer,-0,1",
    "numeric,9.5,10",
    "text,B,a",
    "text,z,é",
    "uuid,0a,0b",
    "date,0999-01-01,1000-01-01",
    "timestamp without time zone,9999-12-31 00:00:00,10000-01-01 00:00:00",
    "boolean,f,t",
    "date,-infinity,2026-01-01"
  })
  void theLesserIsTheLesserAsTextsAndAsBytes(String type, String less, String more) {
    Header header = header(type, 1);
    Row a = row(header, less, less, null);
    Row b = row(header, more, less, null);

    assertThat(KeyType.of(type).compare(less, more)).isNegative();
    assertThat(a.compareKey(b)).isNegative();
    assertThat(b.compareKey(a)).isPositive();
    assertThat(a.compareKey(row(header, less, more, "another"))).isZero();
  }

  @Test
  void theSecondColumnDecidesWhereTheFirstIsTheSame() {
    Header header = header("integer", 2);

    assertThat(row(header, "1", "9", null).compareKey(row(header, "1", "10", null))).isNegative();
  }

  @ParameterizedTest
  @ValueSource(strings = {"x", "1x", "", "12345678901234567890"})
  void whatIsNoNumberIsRefused(String text) {
    Header header = header("bigint", 1);
    Row odd = row(header, text, "1", null);

    assertThatThrownBy(() -> odd.compareKey(row(header, "1", "1", null)))
        .isInstanceOf(NumberFormatException.class);
  }

  @Test
  void aKeyWithoutAValueComesBehindThoseThatHaveOne() {
    Header header = header("integer", 2);

    assertThat(row(header, "1", null, "n").key()).containsExactly("1", null);
    assertThat(row(header, "1", null, "n").compareKey(row(header, "1", "9", "n"))).isPositive();
  }

  private static void read(String line) {
    RowReader reader =
        new RowReader(
            new ByteArrayInputStream(
                ("\"a\",\"b\"\n\"integer\",\"text\"\n" + line).getBytes(StandardCharsets.UTF_8)),
            1);
    while (reader.next() != null) {
      // to the end
    }
  }

  /** What is no row is refused when it is read, though nobody asks for its fields. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "\"1\"\\n | A row has 1 fields, its header 2",
        "\"1\",\"b\",\"c\"\\n | A row has 3 fields, its header 2",
        "\"1\",b\\n | A value that is not quoted",
        "\"1\" ,\"b\"\\n | A value that is not quoted",
        "\"1\"x,\"b\"\\n | A value that is not quoted",
        "\"1\",\"b\\n | The last row does not end with a line end",
        "\"1\",\"b\" | The last row does not end with a line end",
        "\"2\",\"b\"\\n\"1\",\"b\"\\n | Rows do not ascend by key: \"2\" before \"1\"",
        "\"1\",\"b\"\\n\"1\",\"c\"\\n | Two rows have the same key: \"1\"",
      })
  void whatIsNoRowIsRefused(String line, String why) {
    assertThatThrownBy(() -> read(line.replace("\\n", "\n")))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessage(why);
  }

  @Test
  void whatIsARowIsRead() {
    read("\"-3\",\n\"1\",\"a\"\"b, c\nd\"\n\"10\",\"\"\n");
  }
}
