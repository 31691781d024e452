package plenzo.server.wiring;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.check.ContentCheck;

/** Checks of content that jars add: what the configuration file names is trusted as the service. */
public final class AddedChecks {
  private AddedChecks() {}

  /**
   * Every check that the jars of a folder provide, jar by jar in the order of their names.
   *
   * @throws IllegalStateException when a jar cannot be read or names what is no check: a service
   *     without a check that somebody counts on does not start
   */
  public static List<ContentCheck> of(@Nullable Path folder) {
    if (folder == null) {
      return List.of();
    }
    List<ContentCheck> out = new ArrayList<>();
    try (Stream<Path> files = Files.list(folder)) {
      for (Path jar : files.filter(f -> f.toString().endsWith(".jar")).sorted().toList()) {
        // the loader stays open: classes of the jar are loaded when they are first used
        URLClassLoader loader =
            new URLClassLoader(new URL[] {url(jar)}, ContentCheck.class.getClassLoader());
        int before = out.size();
        ServiceLoader.load(ContentCheck.class, loader).forEach(out::add);
        if (out.size() == before) {
          throw new IllegalStateException(
              jar + " provides no check; see docs/operating.md, \"Checks of your own\"");
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The folder of checks " + folder + " cannot be read", e);
    } catch (ServiceConfigurationError e) {
      throw new IllegalStateException(
          "A jar in " + folder + " names what is no check: " + e.getMessage(), e);
    }
    return out;
  }

  private static URL url(Path jar) throws MalformedURLException {
    return jar.toUri().toURL();
  }
}
