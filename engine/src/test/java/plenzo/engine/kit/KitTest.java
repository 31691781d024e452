package plenzo.engine.kit;

import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A test on a kit of its own, closed again. */
public abstract class KitTest {
  @TempDir protected Path folder;
  protected EngineKit kit;

  @BeforeEach
  void openKit() {
    kit = new EngineKit(folder.resolve("data"));
  }

  @AfterEach
  void closeKit() {
    kit.close();
  }
}
