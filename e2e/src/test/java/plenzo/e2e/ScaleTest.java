package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Memory stays constant: a million rows in a heap of 256 MB, from adopting to the switch. */
class ScaleTest {
  @Test
  void comparesAndWritesAMillionRowsInASmallHeap() throws IOException, InterruptedException {
    Path folder = Path.of("target/scale").toAbsolutePath();
    KillTest.clear(folder);
    Process process =
        new ProcessBuilder(
                ProcessHandle.current().info().command().orElse("java"),
                "-Xmx256m",
                "-cp",
                System.getProperty(
                    "surefire.test.class.path", System.getProperty("java.class.path")),
                ScaleMain.class.getName(),
                folder.toString())
            .redirectErrorStream(true)
            .start();
    String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor(10, TimeUnit.MINUTES)).isTrue();

    assertThat(said)
        .contains("changed 1000000, last page 10 to \"1000000\"")
        .contains("done, sum [45499610.00] and [45499610.00]");
    KillTest.clear(folder);
  }
}
