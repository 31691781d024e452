package plenzo.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import org.junit.jupiter.api.Test;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.context.properties.EnableConfigurationProperties;
import org.springframework.context.annotation.Configuration;

class StartTroubleTest {
  @Configuration
  @EnableConfigurationProperties(PlenzoSettings.class)
  static class SettingsAlone {}

  private static Throwable starting(String... arguments) {
    SpringApplication application = new SpringApplication(SettingsAlone.class);
    application.setWebApplicationType(WebApplicationType.NONE);
    return catchThrowable(() -> application.run(arguments).close());
  }

  @Test
  void aMisspeltKeyIsNamedWithTheRightOnes() {
    Throwable trouble = starting("--plenzo.look-evry=1m", "--plenzo.data-directory=x");

    assertThat(StartTrouble.words(trouble))
        .startsWith("\"plenzo.look-evry\"")
        .contains("is not known. Known are plenzo.admin-password, plenzo.checks, ")
        .contains("plenzo.look-every,");
  }

  @Test
  void everyKeyOfTheDocumentIsKnown() {
    assertThat(
            starting(
                "--plenzo.data-directory=x",
                "--plenzo.key-file=y",
                "--plenzo.destinations=a,b",
                "--plenzo.directories=/srv",
                "--plenzo.checks=/c",
                "--plenzo.proxies=10.0.0.5",
                "--plenzo.password-cost=16",
                "--plenzo.look-every=15m",
                "--plenzo.look-at-rows-every=24h",
                "--plenzo.look-at-sources-every=5m"))
        .isNull();
  }

  @Test
  void aWrongValueIsSaidByItsReason() {
    assertThat(StartTrouble.words(starting("--plenzo.look-every=soon"))).contains("soon");
  }

  @Test
  void theDeepestReasonIsSaidUnlessOneAboveSaysIt() {
    assertThat(
            StartTrouble.words(
                new RuntimeException(
                    "outside",
                    new IllegalStateException(
                        "Another Plenzo service has it", new RuntimeException("deep")))))
        .isEqualTo("Another Plenzo service has it");
    assertThat(StartTrouble.words(new RuntimeException("outside", new RuntimeException("deep"))))
        .isEqualTo("deep");
  }

  @Test
  void aPasswordIsNeitherCheapNorEndless() {
    assertThat(StartTrouble.words(starting("--plenzo.password-cost=9"))).contains("10 to 16");
    assertThat(StartTrouble.words(starting("--plenzo.password-cost=17"))).contains("10 to 16");
  }
}
