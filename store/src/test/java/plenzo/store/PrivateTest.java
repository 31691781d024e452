package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What Plenzo keeps is for its own account alone. */
class PrivateTest {
  @TempDir Path above;

  /** Everything below a folder that others may reach. */
  private static List<String> open(Path folder) throws IOException {
    List<String> out = new ArrayList<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.toList()) {
        String mode = PosixFilePermissions.toString(Files.getPosixFilePermissions(p));
        if (!mode.equals(Files.isDirectory(p) ? "rwx------" : "rw-------")) {
          out.add(mode + " " + folder.relativize(p));
        }
      }
    }
    return out;
  }

  @Test
  void recordsAreClosedWhileTheyAreOpenAndAfterwards() throws IOException {
    Path data = above.resolve("data");
    Private.folders(data);
    try (H2Keeper keeper = new H2Keeper(data, () -> "an id", H2Keeper.ROOM)) {
      keeper.write(kept -> null);
      assertThat(open(data)).isEmpty();
    }
    assertThat(open(data)).isEmpty();
  }

  @Test
  void recordsOfAnEarlierPlenzoAreClosedAtTheStart() throws IOException {
    Path data = Files.createDirectories(above.resolve("data"));
    Files.setPosixFilePermissions(data, PosixFilePermissions.fromString("rwxr-xr-x"));
    Path old = Files.writeString(data.resolve("old"), "x");
    Files.setPosixFilePermissions(old, PosixFilePermissions.fromString("rw-r--r--"));

    new H2Keeper(data, () -> "an id", H2Keeper.ROOM).close();

    assertThat(open(data)).isEmpty();
  }

  @Test
  void filesAreMadeClosed() throws IOException {
    Path data = above.resolve("data");
    DiskFiles files = new DiskFiles(data.resolve("files"));

    files.write("backup/R-1/sheet.txt", out -> out.write("x".getBytes(StandardCharsets.UTF_8)));
    files.append("logs/R-1.log", "one line\n");
    try (var out = files.create("comparison/P-1/list")) {
      out.write(1);
    }
    files.move("comparison/P-1/list", "other/list");
    files.write("backup/R-1/sheet.txt", out -> out.write("y".getBytes(StandardCharsets.UTF_8)));

    Path foreign = Files.writeString(files.path("backup/R-1/package"), "z");
    assertThat(open(data)).hasSize(1);
    Private.only(foreign);
    assertThat(open(data)).isEmpty();
    assertThat(Files.readString(files.path("backup/R-1/sheet.txt"))).isEqualTo("y");
  }
}
