package plenzo.demo;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Map;
import java.util.Properties;
import java.util.stream.Stream;
import plenzo.cli.Plenzo;

/** Signs in with the client in a home of its own and takes the token out of it. */
public final class Tokens {
  private Tokens() {}

  public static String make(String server, String person, String password) {
    try {
      Path home = Files.createTempDirectory("plenzo-home");
      try {
        StringWriter err = new StringWriter();
        int code =
            Plenzo.run(
                Map.of("HOME", home.toString(), "PLENZO_SERVER", server),
                new ByteArrayInputStream(password.getBytes(StandardCharsets.UTF_8)),
                new PrintWriter(new StringWriter()),
                new PrintWriter(err),
                "login",
                "--name",
                person,
                "--password-stdin");
        if (code != 0) {
          throw new IllegalStateException(person + " could not sign in: " + err);
        }
        Properties all = new Properties();
        try (var in = Files.newInputStream(home.resolve(".config/plenzo/credentials.properties"))) {
          all.load(in);
        }
        return all.getProperty(server);
      } finally {
        try (Stream<Path> files = Files.walk(home)) {
          for (Path p : files.sorted(Comparator.reverseOrder()).toList()) {
            Files.delete(p);
          }
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
