package plenzo.engine.content;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.keeping.Files;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.store.DiskFiles;

class ByOtherKeyTest {
  private static final String HEAD = "\"code\",\"label\",\"n\"\n\"text\",\"text\",\"integer\"\n";

  @TempDir Path folder;
  private Files files;

  @BeforeEach
  void place() {
    files = new DiskFiles(folder);
  }

  private static RowReader reader(String rows) {
    return new RowReader(
        new ByteArrayInputStream((HEAD + rows).getBytes(StandardCharsets.UTF_8)), 1);
  }

  private @Nullable RowReader by(RowReader rows, String... key) {
    return ByOtherKey.of(files, "sorting/one", rows, List.of(key));
  }

  private static List<String> lines(RowReader rows) {
    List<String> out = new ArrayList<>();
    try (rows) {
      for (Row row = rows.next(); row != null; row = rows.next()) {
        out.add(new String(row.raw(), StandardCharsets.UTF_8).replace("\"", ""));
      }
    }
    return out;
  }

  @Test
  void standInTheOrderOfTheOtherKeyWithItFirst() {
    RowReader out = by(reader("\"a\",\"z\",\"2\"\n\"b\",\"y\",\"10\"\n\"c\",,\"1\"\n"), "label");

    assertThat(out.header().names()).containsExactly("label", "code", "n");
    assertThat(out.header().types()).containsExactly("text", "text", "integer");
    assertThat(lines(out)).containsExactly("y,b,10", "z,a,2", ",c,1");
  }

  @Test
  void areLeftAsTheyAreWhereThatIsTheirKey() {
    RowReader rows = reader("\"a\",\"z\",\"2\"\n");

    assertThat(by(rows, "code")).isSameAs(rows);
  }

  @Test
  void areNoneWhereAColumnIsNotAmongThem() {
    assertThat(by(reader("\"a\",\"z\",\"2\"\n"), "label", "late")).isNull();
  }

  @Test
  void whatTheOtherKeyDoesNotTellApartIsLeftOut() {
    RowReader out =
        by(
            reader(
                "\"a\",\"x\",\"1\"\n\"b\",\"y\",\"2\"\n\"c\",\"x\",\"3\"\n\"d\",,\"4\"\n\"e\",,\"5\"\n\"f\",\"z\",\"6\"\n"),
            "label");

    assertThat(lines(out)).containsExactly("y,b,2", "z,f,6");
  }

  @Test
  void numbersAreInTheOrderOfNumbers() {
    assertThat(lines(by(reader("\"a\",\"x\",\"10\"\n\"b\",\"y\",\"9\"\n"), "n")))
        .containsExactly("9,b,y", "10,a,x");
  }

  /** More than is held at once goes by the disk, and nothing is left there. */
  @Test
  void manyAreSortedPartByPart() {
    List<Integer> labels = new ArrayList<>(IntStream.range(0, 90_000).boxed().toList());
    Collections.shuffle(labels, new Random(7));
    labels.set(89_999, labels.get(0)); // one that is there twice, far apart
    StringBuilder rows = new StringBuilder();
    String long_ = "w".repeat(200);
    for (int n = 0; n < labels.size(); n++) {
      rows.append(
          String.format("\"%06d\",\"%s%06d\",\"%d\"%n", n, long_, labels.get(n), n)
              .replace("\r", ""));
    }

    List<String> out = lines(by(reader(rows.toString()), "label"));

    assertThat(out).hasSize(89_998).isSorted();
    assertThat(files.list("sorting")).isEmpty();
  }
}
