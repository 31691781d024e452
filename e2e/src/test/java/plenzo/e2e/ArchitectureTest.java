package plenzo.e2e;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** The arrows of the house point inward. */
class ArchitectureTest {
  private static final JavaClasses ALL =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .withImportOption(location -> !location.contains("-tests.jar"))
          .importPackages("plenzo");

  @Test
  void pointsInward() {
    noClasses()
        .that()
        .resideInAPackage("plenzo.core..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.engine..",
            "plenzo.connectors..",
            "plenzo.store..",
            "plenzo.server..",
            "plenzo.cli..",
            "plenzo.api..")
        .because("core knows nobody")
        .check(ALL);
    noClasses()
        .that()
        .resideInAPackage("plenzo.engine..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.connectors..",
            "plenzo.store..",
            "plenzo.server..",
            "plenzo.cli..",
            "plenzo.api..")
        .because("use cases know core's ports alone")
        .check(ALL);
    noClasses()
        .that()
        .resideInAPackage("plenzo.connectors..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.engine..", "plenzo.store..", "plenzo.server..", "plenzo.cli..", "plenzo.api..")
        .because("connectors implement core's ports")
        .check(ALL);
    noClasses()
        .that()
        .resideInAPackage("plenzo.store..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.engine..",
            "plenzo.connectors..",
            "plenzo.server..",
            "plenzo.cli..",
            "plenzo.api..")
        .because("the store implements core's ports")
        .check(ALL);
    noClasses()
        .that()
        .resideInAPackage("plenzo.cli..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.core..",
            "plenzo.engine..",
            "plenzo.connectors..",
            "plenzo.store..",
            "plenzo.server..")
        .because("the client knows the API alone")
        .check(ALL);
    noClasses()
        .that()
        .resideInAPackage("plenzo.api..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("plenzo.core..", "plenzo.engine..", "plenzo.server..")
        .because("records without logic")
        .check(ALL);
  }

  @Test
  void keepsTheStandInAStranger() {
    noClasses()
        .that()
        .resideInAPackage("plenzo.standin..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "plenzo.core..",
            "plenzo.engine..",
            "plenzo.connectors..",
            "plenzo.store..",
            "plenzo.server..",
            "plenzo.cli..",
            "plenzo.api..")
        .because("a host of somebody else's knows the protocol's messages alone")
        .check(ALL);
  }

  @Test
  void keepsCoreFreeOfEverythingButTheJdk() {
    noClasses()
        .that()
        .resideInAPackage("plenzo.core..")
        .should()
        .dependOnClassesThat()
        .resideOutsideOfPackages(
            "plenzo.core..",
            "java.lang..",
            "java.util..",
            "java.math..",
            "java.time..",
            "java.nio.charset..",
            "java.text..",
            "java.security..",
            "java.io..",
            "org.jspecify..")
        .because("the computation must run anywhere")
        .check(ALL);
    noClasses()
        .that()
        .resideInAnyPackage("plenzo.core..", "plenzo.engine..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "org.springframework..",
            "java.sql..",
            "org.apache.ibatis..",
            "java.net.http..",
            "java.nio.file..")
        .because("frameworks stay outside")
        .check(ALL);
  }

  @Test
  void readsClockAndRandomOnlyInWiring() {
    noClasses()
        .that()
        .resideInAnyPackage("plenzo.core..", "plenzo.engine..", "plenzo.store..")
        .should()
        .callMethod(java.time.Instant.class, "now")
        .orShould()
        .callMethod(UUID.class, "randomUUID")
        .orShould()
        .callMethod(System.class, "getenv", String.class)
        .because("time and ids come in through parameters")
        .check(ALL);
  }

  @Test
  void buildsSqlInOnePackage() {
    noClasses()
        .that()
        .resideOutsideOfPackages(
            "plenzo.connectors.database..", "plenzo.store..", "plenzo.demo..", "plenzo.standin..")
        .should()
        .dependOnClassesThat()
        .resideInAPackage("java.sql..")
        .because("only the connector and the store speak SQL")
        .check(ALL);
  }

  @Test
  void hasNoCycles() {
    slices()
        .matching("plenzo.engine.(*)..")
        .should()
        .beFreeOfCycles()
        .because("each room has one door")
        .check(ALL);
    slices()
        .matching("plenzo.(*)..")
        .should()
        .beFreeOfCycles()
        .because("modules point inward")
        .check(ALL);
  }

  @Test
  void marksEveryPackageForNull() {
    classes()
        .that()
        .haveSimpleName("package-info")
        .and()
        .resideInAPackage("plenzo..")
        .should()
        .beAnnotatedWith(org.jspecify.annotations.NullMarked.class)
        .because("null is said, never assumed")
        .check(ALL);
  }
}
