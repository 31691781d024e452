package plenzo.server.wiring;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Deny by default: what is listed, where it leads, and nothing beside it. */
class AllowListTest {
  private static AllowList of(String... entries) {
    return new AllowList(List.of(entries), List.of());
  }

  @ParameterizedTest
  @CsvSource({
    "127.0.0.1:5432, 127.0.0.1, 5432",
    "127.0.0.1:*, 127.0.0.1, 9999",
    "127.0.0.1, 127.0.0.1, 1",
    "localhost:5432, LOCALHOST, 5432",
    "[::1]:5432, [::1], 5432",
    "[::1], ::1, 5432",
    "192.0.2.*:443, 192.0.2.7, 443",
  })
  void allowsWhatIsListed(String entry, String host, int port) {
    assertThat(of(entry).refusal(host, port)).isNull();
  }

  @ParameterizedTest
  @CsvSource({
    "127.0.0.1:5432, 127.0.0.1, 5433",
    "127.0.0.1:5432, 127.0.0.2, 5432",
    "192.0.2.*:443, 192.0.2.7.example, 443",
    "192.0.2.7:443, 192x0x2x7, 443",
    "*.example:443, example, 443",
  })
  void refusesWhatIsNot(String entry, String host, int port) {
    assertThat(of(entry).refusal(host, port)).contains("is not allowed");
  }

  /** A pattern is about machines elsewhere; nobody lists their own by accident. */
  @ParameterizedTest
  @CsvSource({
    "*:5432, localhost",
    "127.0.0.*:5432, 127.0.0.1",
    "*, localhost",
    "127.*.*.*, 127.0.0.1"
  })
  void leadsToThisMachineOnlyWhereItIsListedByItself(String entry, String host) {
    assertThat(of(entry).refusal(host, 5432)).contains("this machine itself");
    assertThat(of(entry, host).refusal(host, 5432)).isNull();
  }

  @ParameterizedTest
  @ValueSource(strings = {"169.254.169.254", "0.0.0.0", "224.0.0.1", "fe80::1", "::"})
  void neverLeadsThere(String host) {
    assertThat(of(host.contains(":") ? "[" + host + "]" : host).refusal(host, 80))
        .contains("never allowed");
  }

  @Test
  void saysThatThereIsNoSuchHost() {
    assertThat(of("*.invalid").refusal("nowhere.invalid", 80))
        .isEqualTo("There is no host nowhere.invalid.");
  }

  /** Folders. */
  @Nested
  class Folders {
    @TempDir Path disk;
    private Path root;
    private AllowList list;

    @BeforeEach
    void folders() throws IOException {
      root = Files.createDirectories(disk.resolve("sites"));
      Files.createDirectories(disk.resolve("secret/deep"));
      list = new AllowList(List.of(), List.of(root));
    }

    private String refusal(Path folder) {
      return String.valueOf(list.refusal(folder.toString()));
    }

    @Test
    void allowsWhatLiesBelowThereOrNotYet() throws IOException {
      Files.createDirectories(root.resolve("north"));

      assertThat(refusal(root.resolve("north"))).isEqualTo("null");
      assertThat(refusal(root.resolve("south/files"))).isEqualTo("null");
    }

    @Test
    void refusesWhatDoesNot() {
      assertThat(refusal(root)).as("the listed one itself").contains("is not allowed");
      assertThat(refusal(disk.resolve("secret"))).contains("is not allowed");
      assertThat(refusal(root.resolve("../secret"))).contains("is not allowed");
      assertThat(refusal(disk.resolve("sites-too"))).contains("is not allowed");
      assertThat(String.valueOf(list.refusal("sites/north"))).contains("is not allowed");
    }

    /** A link below the listed folder led anywhere. */
    @Test
    void judgesWhereALinkLeads() throws IOException {
      Files.createSymbolicLink(root.resolve("out"), disk.resolve("secret"));
      Files.createDirectories(root.resolve("trees/2"));
      Files.createSymbolicLink(root.resolve("current"), Path.of("trees/2"));

      assertThat(refusal(root.resolve("out")))
          .contains("which leads to " + disk.toRealPath().resolve("secret"));
      assertThat(refusal(root.resolve("out/deep"))).contains("is not allowed");
      assertThat(refusal(root.resolve("out/not-yet"))).contains("is not allowed");
      assertThat(refusal(root.resolve("current")))
          .as("a link to a tree beside it")
          .isEqualTo("null");
    }

    @Test
    void followsTheListedFolderToo() throws IOException {
      Path link = Files.createSymbolicLink(disk.resolve("link"), root);
      Files.createDirectories(root.resolve("north"));

      assertThat(String.valueOf(new AllowList(List.of(), List.of(link)).refusal(link + "/north")))
          .isEqualTo("null");
    }

    @Test
    void saysWhatCannotBeLookedAt() throws IOException {
      Files.createSymbolicLink(root.resolve("loop"), root.resolve("loop"));

      assertThat(refusal(root.resolve("loop"))).contains("cannot be looked at");
    }
  }
}
