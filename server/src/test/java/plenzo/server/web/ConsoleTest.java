package plenzo.server.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.springframework.web.bind.annotation.GetMapping;

/** Each page of the console can be opened by its address, not only reached by a link. */
class ConsoleTest {
  private static final Pattern ROUTE = Pattern.compile("<Route path=\"(/[^\"]*)\"");

  private static List<String> pages() throws IOException {
    List<String> out = new ArrayList<>();
    Matcher m = ROUTE.matcher(Files.readString(Path.of("../console/src/app/App.tsx")));
    while (m.find()) {
      out.add(m.group(1));
    }
    return out;
  }

  private static String[] served() throws NoSuchMethodException {
    return Objects.requireNonNull(
            Console.class.getDeclaredMethod("page").getAnnotation(GetMapping.class))
        .value();
  }

  @Test
  void servesEveryPage() throws Exception {
    assertThat(pages()).hasSizeGreaterThan(20);
    for (String page : pages()) {
      String address = page.replaceAll(":[a-z]+", "x");
      assertThat(served())
          .as(page)
          .anyMatch(
              s ->
                  s.endsWith("/**")
                      ? address.startsWith(s.substring(0, s.length() - 2))
                          || address.equals(s.substring(0, s.length() - 3))
                      : s.equals(address));
    }
  }
}
