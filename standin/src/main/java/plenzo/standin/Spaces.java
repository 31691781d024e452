package plenzo.standin;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Places of their own, a folder each; they are there after a restart too. */
final class Spaces {
  private static final String NAME = "[a-z][a-z0-9-]{0,59}";

  private final Path folder;
  private final Function<StateFile, Place> places;
  private final Map<String, Place> open = new TreeMap<>();

  Spaces(Path folder, Function<StateFile, Place> places) {
    this.folder = folder;
    this.places = places;
    for (String name : names()) {
      open.put(name, places.apply(new StateFile(folder.resolve(name))));
    }
  }

  synchronized List<String> names() {
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (Stream<Path> all = Files.list(folder)) {
      return all.map(p -> p.getFileName().toString()).sorted().toList();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * @param from what it begins with; null for nothing
   */
  synchronized void open(String name, @Nullable State from) {
    if (!name.matches(NAME)) {
      throw new Trouble(422, "NAME", "A place is called by small letters; got " + name);
    }
    drop(name);
    StateFile file = new StateFile(folder.resolve(name));
    file.change(empty -> from == null ? empty.apart() : from.apart());
    open.put(name, places.apply(file));
  }

  synchronized void drop(String name) {
    open.remove(name);
    Path gone = folder.resolve(name);
    if (!name.matches(NAME) || !Files.isDirectory(gone)) {
      return;
    }
    try (Stream<Path> all = Files.walk(gone)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The place " + name + " stays", e);
    }
  }

  synchronized Place find(String name) {
    Place place = open.get(name);
    if (place == null) {
      throw new Trouble(404, "NOT_FOUND", "There is no place " + name);
    }
    return place;
  }
}
