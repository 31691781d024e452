package plenzo.server;

import java.lang.management.ManagementFactory;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;

/**
 * The service. {@code java -jar plenzo-server.jar --spring.config.additional-location=plenzo.yml}
 */
@SpringBootApplication
@ConfigurationPropertiesScan
public class PlenzoServer {
  private static final String ENDS = "-XX:+ExitOnOutOfMemoryError";

  public static void main(String[] args) {
    if (!ManagementFactory.getRuntimeMXBean().getInputArguments().contains(ENDS)) {
      System.err.println(
          "Without the option "
              + ENDS
              + " this service goes on half alive when it has no memory left.");
    }
    try {
      SpringApplication.run(PlenzoServer.class, args);
    } catch (RuntimeException e) {
      System.err.println("Plenzo does not start: " + StartTrouble.words(e));
      System.exit(1);
    }
  }
}
