package plenzo.standin;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Map;
import java.util.UUID;
import java.util.function.UnaryOperator;
import tools.jackson.databind.json.JsonMapper;

/** The state on the disk: what {@link #change} returns from is there, even if power is cut next. */
final class StateFile {
  private static final JsonMapper JSON = new JsonMapper();

  private final Path file;
  private State state;

  StateFile(Path folder) {
    try {
      Files.createDirectories(folder);
      this.file = folder.resolve("state.json");
      this.state =
          Files.exists(file)
              ? JSON.readValue(Files.readAllBytes(file), State.class)
              : new State(
                  UUID.randomUUID().toString(),
                  null,
                  Map.of(),
                  Map.of(),
                  Map.of(),
                  false,
                  "",
                  1,
                  null);
    } catch (IOException e) {
      throw new UncheckedIOException("The state in " + folder + " cannot be read", e);
    }
  }

  synchronized State now() {
    return state;
  }

  /** Changes the state and flushes it before it counts. */
  synchronized State change(UnaryOperator<State> change) {
    State next = change.apply(state);
    if (next != state) {
      write(next);
      state = next;
    }
    return next;
  }

  private void write(State next) {
    Path aside = file.resolveSibling("state.part");
    try {
      try (FileChannel out =
          FileChannel.open(
              aside,
              StandardOpenOption.CREATE,
              StandardOpenOption.WRITE,
              StandardOpenOption.TRUNCATE_EXISTING)) {
        ByteBuffer bytes = ByteBuffer.wrap(JSON.writeValueAsBytes(next));
        while (bytes.hasRemaining()) {
          out.write(bytes);
        }
        out.force(true);
      }
      Files.move(aside, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      try (FileChannel folder = FileChannel.open(file.getParent(), StandardOpenOption.READ)) {
        folder.force(true);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The state could not be written", e);
    }
  }
}
