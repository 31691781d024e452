package plenzo.connectors.directory;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.TargetFailed;

/** A file beside a directory says that it is closed, and is gone afterwards. */
class ClosedFileTest {
  private static final Doors PAGE = new Doors(List.of("closed.html"), false);

  @TempDir Path folder;

  private void maintenance(DirectoryWorld w, boolean on, Doors doors, String notice) {
    try (ItemsChanging session = w.connector.change(w.access)) {
      session.maintenance(on, 7, doors, notice);
    }
  }

  private DirectoryWorld world(String mode) {
    DirectoryWorld w = new DirectoryWorld(folder, mode);
    w.write("fares/tariff.txt", "1");
    if (mode.equals("exchange")) {
      w.connector.makeReady(w.access);
    }
    return w;
  }

  @ParameterizedTest
  @ValueSource(strings = {"exchange", "in-place"})
  void isThereWithWhatPeopleReadWhileItIsClosedAndTheFilesStay(String mode) throws IOException {
    DirectoryWorld w = world(mode);
    var files = w.files();

    maintenance(w, true, PAGE, "Back at <8>");
    maintenance(w, true, PAGE, "Back at <9>");

    assertThat(Files.readString(folder.resolve("closed.html")))
        .contains("<p>Back at &lt;9&gt;</p>");
    assertThat(w.files()).isEqualTo(files);
    assertThat(w.inventory().keySet()).containsExactly("fares/tariff.txt");

    maintenance(w, false, Doors.NONE, "");
    maintenance(w, false, Doors.NONE, "");

    assertThat(folder.resolve("closed.html")).doesNotExist();
    assertThat(w.files()).isEqualTo(files);
  }

  @ParameterizedTest
  @ValueSource(strings = {"closed.html", "published", "published.plenzo"})
  void doesNotTakeThePlaceOfWhatIsSomebodyElses(String name) throws IOException {
    DirectoryWorld w = world("exchange");
    if (name.equals("closed.html")) {
      Files.writeString(folder.resolve(name), "mine");
    }

    assertThatThrownBy(() -> maintenance(w, true, new Doors(List.of(name), false), "x"))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("not Plenzo's");
    maintenance(w, false, Doors.NONE, "");

    assertThat(Files.exists(folder.resolve(name))).isTrue();
    assertThat(w.inventory().keySet()).containsExactly("fares/tariff.txt");
  }

  @ParameterizedTest
  @ValueSource(strings = {"closed.txt"})
  void isGoneAlsoWhenItWasCalledOtherwiseThen(String name) throws IOException {
    DirectoryWorld w = world("exchange");
    maintenance(w, true, PAGE, "x");

    maintenance(w, true, new Doors(List.of(name), false), "Plain < text");

    assertThat(folder.resolve("closed.html")).doesNotExist();
    assertThat(Files.readString(folder.resolve(name))).isEqualTo("Plain < text\n");
    maintenance(w, false, Doors.NONE, "");
    assertThat(folder.resolve(name)).doesNotExist();
  }
}
