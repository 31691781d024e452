package plenzo.engine.content;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.store.DiskFiles;

class SpillingTest {
  @TempDir Path folder;
  private DiskFiles files;

  @BeforeEach
  void start() {
    files = new DiskFiles(folder);
  }

  private List<String> there() throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.filter(Files::isRegularFile)
          .map(p -> folder.relativize(p).toString())
          .sorted()
          .toList();
    }
  }

  private Spilling filled(int bytes) throws IOException {
    Spilling out = new Spilling(files, "content/incoming-1");
    try (out) {
      byte[] chunk = new byte[1000];
      for (int left = bytes; left > 0; left -= chunk.length) {
        out.write(chunk, 0, Math.min(left, chunk.length));
      }
    }
    return out;
  }

  @Test
  void whatIsSmallIsOneFileFromTheStart() throws IOException {
    Spilling out = filled(Spilling.MOST);
    assertThat(there()).as("it has no name yet").isEmpty();

    out.become("content/aa");

    assertThat(there()).containsExactly("content/aa");
    assertThat(Files.size(folder.resolve("content/aa"))).isEqualTo(Spilling.MOST);
    assertThat(out.size()).isEqualTo(Spilling.MOST);
  }

  @Test
  void whatIsLargeLiesAsideUntilItsNameIsKnown() throws IOException {
    Spilling out = filled(Spilling.MOST + 1);
    assertThat(there()).containsExactly("content/incoming-1");

    out.become("content/aa");

    assertThat(there()).containsExactly("content/aa");
    assertThat(Files.size(folder.resolve("content/aa"))).isEqualTo(Spilling.MOST + 1);
  }

  @Test
  void whatLiesThereIsNotWrittenOnceMore() throws IOException {
    filled(5).become("content/aa");
    FileTime then = FileTime.fromMillis(1_000_000);
    Files.setLastModifiedTime(folder.resolve("content/aa"), then);

    filled(5).become("content/aa");
    filled(Spilling.MOST + 1).become("content/aa");

    assertThat(there()).containsExactly("content/aa");
    assertThat(Files.getLastModifiedTime(folder.resolve("content/aa"))).isEqualTo(then);
  }

  @Test
  void whatIsForgottenLeavesNothing() throws IOException {
    filled(Spilling.MOST + 1).forget();
    filled(5).forget();

    assertThat(there()).isEmpty();
  }
}
