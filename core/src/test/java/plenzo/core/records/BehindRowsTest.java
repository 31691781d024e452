package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;

class BehindRowsTest {
  private static final Header HEADER =
      new Header(List.of("code", "note", "drawing"), List.of("text", "text", "bytea"), 1);
  private final Map<LongValue, byte[]> all = new HashMap<>();
  private final LongValues values =
      v -> Optional.ofNullable(all.get(v)).map(ByteArrayInputStream::new);

  private LongValue value(String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    MessageDigest sum = Digest.sha256();
    sum.update(bytes);
    LongValue out = new LongValue(Digest.of(sum), bytes.length);
    all.put(out, bytes);
    return out;
  }

  private static byte[] file(LongValues from, Row... rows) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    BehindRows behind = new BehindRows();
    for (List<String> head : List.of(HEADER.names(), HEADER.types())) {
      out.write(CanonicalCsv.line(head));
      out.write('\n');
    }
    for (Row row : rows) {
      out.write(row.raw());
      out.write('\n');
      behind.add(row);
    }
    behind.write(out, out.size(), from);
    return out.toByteArray();
  }

  private static Row row(String code, String note, String drawing) {
    return Row.of(HEADER, Arrays.asList(code, note, drawing));
  }

  private static LongValues in(byte[] file) {
    return BehindRows.in(at -> from(file, at), file.length);
  }

  private static String read(LongValues from, LongValue value) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    BehindRows.copy(value, from, out);
    return out.toString(StandardCharsets.UTF_8);
  }

  @Test
  void rowsAreReadAsEverAndEachValueIsFoundOnce() throws IOException {
    LongValue tide = value("high\n\0tide \"\n");
    LongValue ebb = value("ebb");
    Row first = row("A", tide.name(), null);
    Row second = row("B", tide.name(), ebb.name());
    byte[] file = file(values, first, second);

    try (RowReader rows = new RowReader(new ByteArrayInputStream(file), 1)) {
      assertThat(rows.next().fields()).isEqualTo(first.fields());
      assertThat(rows.next().longValues()).containsExactly(tide, ebb);
      assertThat(rows.next()).isNull();
      assertThat(rows.next()).as("the end stays the end").isNull();
      assertThat(rows.count()).isEqualTo(2);
    }
    assertThat(read(in(file), tide)).isEqualTo("high\n\0tide \"\n");
    assertThat(read(in(file), ebb)).isEqualTo("ebb");
    assertThat(in(file).open(value("other"))).isEmpty();
    assertThat(file).as("in whatever order they came").isEqualTo(file(in(file), first, second));
  }

  @Test
  void aFileWithoutOneIsAsItWas() throws IOException {
    byte[] file = file(LongValues.NONE, row("A", "short", null));
    assertThat(file).doesNotContain((byte) 0);
    assertThat(in(file).open(value("x"))).isEmpty();
    assertThat(in(new byte[3]).open(value("x"))).isEmpty();
  }

  @Test
  void whatIsNotThereOrDamagedIsSaid() throws IOException {
    LongValue tide = value("the whole tide table");
    Row row = row("A", tide.name(), null);
    assertThatThrownBy(() -> file(LongValues.NONE, row))
        .hasMessageContaining("not where it should");
    byte[] file = file(values, row);
    String text = new String(file, StandardCharsets.ISO_8859_1);
    byte[] other = text.replace("whole", "Whole").getBytes(StandardCharsets.ISO_8859_1);
    assertThatThrownBy(() -> BehindRows.check(at -> from(other, at), other.length))
        .hasMessageContaining("is another by now");
    byte[] cut = text.replace("table\0", "tab\0").getBytes(StandardCharsets.ISO_8859_1);
    assertThatThrownBy(() -> read(in(cut), tide)).isInstanceOf(IllegalStateException.class);
    byte[] far =
        text.replaceFirst("\0[0-9]{20}\n$", "\0" + "9".repeat(18) + "00\n")
            .getBytes(StandardCharsets.ISO_8859_1);
    assertThatThrownBy(() -> in(far).open(tide)).hasMessageContaining("damaged");
    BehindRows.check(at -> from(file, at), file.length);
  }

  @Test
  void oneIsTheSameWhetherItStandsInItsRowOrBesideIt() {
    LongValue note = value("tide");
    LongValue drawing = value("\u0001\u0002");
    Row beside = row("A", note.name(), drawing.name());
    assertThat(beside.sameIn(HEADER, row("A", "tide", "\\x0102"))).isTrue();
    assertThat(row("A", "tide", "\\x0102").sameIn(HEADER, beside)).isTrue();
    assertThat(beside.sameIn(HEADER, row("A", "Tide", "\\x0102"))).isFalse();
    assertThat(beside.sameIn(HEADER, row("A", "tide", "\\x0103"))).isFalse();
    assertThat(beside.sameIn(HEADER, row("A", "tide", null))).isFalse();
    assertThat(beside.sameIn(HEADER, row("A", note.name(), drawing.name()))).isTrue();
    assertThat(beside.sameIn(HEADER, row("A", value("ebb").name(), drawing.name()))).isFalse();
  }

  @Test
  void peopleReadItsSize() {
    LongValue v = new LongValue(Digest.of("x"), 210_400_000);
    assertThat(LongValue.shown(v.name()))
        .isEqualTo("(a long value of 210.4 MB, SHA-256 " + v.digest().brief() + "…)");
    assertThat(LongValue.shown("plain")).isEqualTo("plain");
    assertThat(LongValue.shown(null)).isNull();
    assertThat(LongValue.of("\0unknown")).as("no name of one").isEmpty();
    assertThat(List.of("text", "bytea", "json", "jsonb", "xml", "character varying(12)"))
        .allMatch(LongValue::mayBe);
    assertThat(List.of("text[]", "character varying(12)[]", "numeric", "fares.kind"))
        .noneMatch(LongValue::mayBe);
  }

  /** Whatever is altered, behind the rows too, makes a digest that no rows have. */
  @Test
  void theDigestIsThatOfTheRowsWhereWhatStandsBehindThemIsWhatTheyName() throws IOException {
    Row[] rows = {
      row("A\n", value("high\n\0tide \"\n").name(), null), row("B", "x", value("ebb").name())
    };
    byte[] file = file(values, rows);
    int length = (int) BehindRows.rows(at -> from(file, at), file.length);
    Digest expected = ContentDigest.of(Kind.RECORDS, Arrays.copyOf(file, length));

    for (int step = 1; step < file.length; step++) {
      assertThat(digest(file, step)).as("in parts of " + step).isEqualTo(expected);
    }
    for (int i = 0; i < file.length; i++) {
      byte[] altered = file.clone();
      altered[i] ^= 1;
      assertThat(digest(altered, 7)).as("byte " + i).isNotEqualTo(expected);
    }
    for (int end = length; end < file.length; end++) {
      assertThat(digest(Arrays.copyOf(file, end), 64)).as("cut at " + end).isNotEqualTo(expected);
    }
    assertThat(digest(Arrays.copyOf(file, file.length + 1), 64)).isNotEqualTo(expected);
    byte[] plain = file(LongValues.NONE, row("A", "short", null));
    assertThat(digest(plain, 5)).isEqualTo(ContentDigest.of(Kind.RECORDS, plain));
    assertThat(new String(BehindRows.rowsOf(at -> from(file, at), file.length).readAllBytes()))
        .isEqualTo(new String(file, 0, length));
  }

  private static InputStream from(byte[] file, long at) {
    return new ByteArrayInputStream(file, (int) at, file.length - (int) at);
  }

  private static Digest digest(byte[] file, int step) {
    MessageDigest digest = RowsDigest.of(Kind.RECORDS);
    for (int i = 0; i < file.length; i += step) {
      digest.update(file, i, Math.min(step, file.length - i));
    }
    return Digest.of(digest);
  }
}
