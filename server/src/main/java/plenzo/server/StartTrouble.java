package plenzo.server;

import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.Comparator;
import java.util.stream.Collectors;
import org.springframework.boot.context.properties.bind.UnboundConfigurationPropertiesException;

/** Why the service does not start, in one sentence that says what to do. */
final class StartTrouble {
  private StartTrouble() {}

  static String words(Throwable trouble) {
    Throwable cause = trouble;
    while (cause.getCause() != null && !says(cause)) {
      cause = cause.getCause();
    }
    return cause instanceof UnboundConfigurationPropertiesException unknown
        ? unknown(unknown)
        : String.valueOf(cause.getMessage());
  }

  /** Below these lies only how it came about. */
  private static boolean says(Throwable t) {
    return t instanceof UnboundConfigurationPropertiesException
        || t instanceof IllegalStateException
            && String.valueOf(t.getMessage()).startsWith("Another Plenzo");
  }

  private static String unknown(UnboundConfigurationPropertiesException e) {
    return e.getUnboundProperties().stream()
            .sorted(Comparator.comparing(p -> p.getName().toString()))
            .map(
                p ->
                    "\""
                        + p.getName()
                        + "\""
                        + (p.getOrigin() == null ? "" : " (" + p.getOrigin() + ")"))
            .collect(Collectors.joining(", "))
        + " is not known. Known are "
        + Arrays.stream(PlenzoSettings.class.getRecordComponents())
            .map(StartTrouble::key)
            .sorted()
            .collect(Collectors.joining(", "))
        + ".";
  }

  private static String key(RecordComponent c) {
    return "plenzo." + c.getName().replaceAll("([A-Z])", "-$1").toLowerCase(java.util.Locale.ROOT);
  }
}
