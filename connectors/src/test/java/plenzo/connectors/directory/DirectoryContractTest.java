package plenzo.connectors.directory;

import java.nio.file.Path;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.target.Access;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.target.TargetContract;

class DirectoryContractTest {
  /** The link to a tree is moved. */
  @Nested
  class Exchange extends Contract {
    Exchange() {
      super("exchange");
    }
  }

  /** Files are exchanged one by one, with a journal. */
  @Nested
  class InPlace extends Contract {
    InPlace() {
      super("in-place");
    }
  }

  abstract static class Contract extends TargetContract {
    private static final String FILE = "fares/amount.txt";

    private final String mode;
    private DirectoryWorld world;

    @TempDir Path folder;

    Contract(String mode) {
      this.mode = mode;
    }

    @BeforeEach
    void publish() {
      world = new DirectoryWorld(folder, mode);
      write(OLD);
      if (mode.equals("exchange")) {
        world.connector.makeReady(world.access);
      }
    }

    @Override
    protected Connector connector() {
      return world.connector;
    }

    @Override
    protected Access looking() {
      return world.access;
    }

    @Override
    protected Access changing() {
      return world.access;
    }

    @Override
    protected Delta to(String value) {
      return world.delta(Map.of(FILE, world.content(value)));
    }

    @Override
    protected String held() {
      return Objects.requireNonNull(world.files().get(FILE));
    }

    @Override
    protected void write(String value) {
      world.write(FILE, value);
    }
  }
}
