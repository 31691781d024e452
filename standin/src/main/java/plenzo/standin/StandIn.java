package plenzo.standin;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;

/**
 * {@code java plenzo.standin.StandIn FILE}: starts the host with the settings of a properties file
 * ({@code port}, {@code folder}, {@code token}, {@code database.url}, {@code database.account},
 * {@code database.password}, {@code simulate}) and prints "listening on PORT".
 */
public final class StandIn {
  private StandIn() {}

  public static void main(String[] args) throws IOException {
    if (args.length != 1) {
      System.err.println("Usage: StandIn SETTINGS.properties");
      System.exit(2);
    }
    Properties settings = new Properties();
    try (Reader in = Files.newBufferedReader(Path.of(args[0]))) {
      settings.load(in);
    }
    Host host =
        new Host(
            Path.of(settings.getProperty("folder")),
            Integer.parseInt(settings.getProperty("port", "0")),
            settings.getProperty("token"),
            new Quote.Database(
                settings.getProperty("database.url", ""),
                settings.getProperty("database.account", ""),
                settings.getProperty("database.password", "")),
            Boolean.parseBoolean(settings.getProperty("simulate", "false")));
    Runtime.getRuntime().addShutdownHook(new Thread(host::close));
    System.out.println("listening on " + host.port());
  }
}
