package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.Map;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.cli.Plenzo;
import plenzo.core.person.Right;

/** The client knows the API alone, so its help repeats the rights; this holds it to them. */
class RightsInHelpTest {
  @ParameterizedTest
  @EnumSource
  void theHelpOfGrantingListsEveryRight(Right right) {
    StringWriter said = new StringWriter();
    PrintWriter out = new PrintWriter(said);

    int code =
        Plenzo.run(Map.of(), InputStream.nullInputStream(), out, out, "role", "grant", "--help");

    assertThat(code).isZero();
    assertThat(said.toString()).containsPattern("[ ,]" + right.code() + "(,|\\s)");
  }
}
