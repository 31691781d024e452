package plenzo.server.web;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * A CSV file that is sent while it is worked out. The answer begins with the first line, so that a
 * problem before it is still answered as one.
 */
final class CsvAnswer implements Consumer<String> {
  private final HttpServletResponse response;
  private final String name;
  private @Nullable Writer writer;

  CsvAnswer(HttpServletResponse response, String name) {
    this.response = response;
    this.name = name;
  }

  @Override
  public void accept(String line) {
    try {
      if (writer == null) {
        response.setContentType("text/csv");
        response.setCharacterEncoding(StandardCharsets.UTF_8);
        response.setHeader(
            "Content-Disposition",
            "attachment; filename=\"" + name.replaceAll("[^A-Za-z0-9._-]", "_") + "\"");
        writer = response.getWriter();
      }
      writer.write(line);
      writer.write('\n');
    } catch (IOException e) {
      throw new UncheckedIOException("The reader of " + name + " went away", e);
    }
  }

  void finish() {
    try {
      if (writer != null) {
        writer.flush();
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The reader of " + name + " went away", e);
    }
  }
}
