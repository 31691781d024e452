package plenzo.server.wiring;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.server.PlenzoSettings;

class StartNotesTest {
  @TempDir Path folder;

  private PlenzoSettings settings(List<String> destinations, Path... directories) {
    return new PlenzoSettings(
        folder,
        folder.resolve("key"),
        destinations,
        List.of(directories),
        null,
        List.of(),
        "",
        10,
        Duration.ofMinutes(15),
        Duration.ofHours(24),
        Duration.ofMinutes(5),
        "",
        null,
        null);
  }

  @Test
  void saysWhereItListens() throws Exception {
    PlenzoSettings s = settings(List.of("db.example:5432"), folder);

    assertThat(StartNotes.lines(s, InetAddress.getByName("127.0.0.1"), 7878, false))
        .containsExactly("Plenzo listens at http://127.0.0.1:7878");
    assertThat(StartNotes.lines(s, InetAddress.getByName("::1"), 80, false))
        .containsExactly("Plenzo listens at http://[0:0:0:0:0:0:0:1]:80");
    assertThat(StartNotes.lines(s, InetAddress.getByName("192.0.2.7"), 443, true))
        .containsExactly("Plenzo listens at https://192.0.2.7:443");
  }

  @Test
  void saysThatOthersCanReadAlong() throws Exception {
    PlenzoSettings s = settings(List.of("db.example:5432"), folder);

    for (InetAddress open : new InetAddress[] {InetAddress.getByName("192.0.2.7"), null}) {
      assertThat(StartNotes.lines(s, open, 7878, false))
          .hasSize(2)
          .last()
          .asString()
          .contains("in plain");
    }
  }

  @Test
  void saysWhichFolderIsNotThereAndThatNothingMayBeReached() throws Exception {
    InetAddress here = InetAddress.getByName("127.0.0.1");

    assertThat(
            StartNotes.lines(
                settings(List.of(), folder, folder.resolve("none")), here, 7878, false))
        .hasSize(2)
        .last()
        .asString()
        .contains(folder.resolve("none") + ", and there is no such folder");
    assertThat(StartNotes.lines(settings(List.of()), here, 7878, false))
        .last()
        .asString()
        .contains("Nothing may be reached yet");
  }
}
