package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import plenzo.core.testing.Ground;

/** Memory stays constant: a million rows in a heap of 256 MB, from adopting to the switch. */
class ScaleTest {
  @Tag("nightly")
  @Test
  void comparesAMillionRowsInASmallHeapAndOpensTheLastOfAMillionDifferences()
      throws IOException, InterruptedException {
    assertThat(said()).contains("changed 1000000, last page 10 to \"1000000\"");
  }

  @Tag("nightly")
  @Test
  void writesAMillionRowsInASmallHeap() throws IOException, InterruptedException {
    assertThat(said("run")).contains("done, sum [45499610.00] and [45499610.00]");
  }

  @Tag("nightly")
  @Test
  void takesManyFilesThroughAWholeRunInASmallHeap() throws IOException, InterruptedException {
    assertThat(heard(ManyFilesMain.class, "100000", "1000"))
        .contains("done 1.1.0 is at production/main.")
        .contains("intact with {file=100000}")
        .contains("there Changed 99900");
  }

  private static String said(String... more) throws IOException, InterruptedException {
    return heard(ScaleMain.class, more);
  }

  private static String heard(Class<?> main, String... more)
      throws IOException, InterruptedException {
    Path folder = Ground.of("scale");
    KillTest.clear(folder);
    List<String> command =
        new ArrayList<>(
            List.of(
                ProcessHandle.current().info().command().orElse("java"),
                "-Xmx256m",
                "-cp",
                System.getProperty(
                    "surefire.test.class.path", System.getProperty("java.class.path")),
                main.getName(),
                folder.toString()));
    command.addAll(List.of(more));
    Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
    String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor(10, TimeUnit.MINUTES)).isTrue();

    KillTest.clear(folder);
    return said;
  }
}
