package plenzo.e2e;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.onionArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** The arrows of the house point inward. */
class ArchitectureTest {
  private static final JavaClasses ALL = new ClassFileImporter().withImportOption(new ImportOption.DoNotIncludeTests()).importPackages("plenzo");

  @Test
  void pointsInward() {
    onionArchitecture()
        .domainModels("plenzo.core..")
        .domainServices("plenzo.core..")
        .applicationServices("plenzo.engine..")
        .adapter("connectors", "plenzo.connectors..")
        .adapter("store", "plenzo.store..")
        .adapter("client", "plenzo.cli..")
        .ignoreDependency(com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage("plenzo.server.."), com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage("plenzo.."))
        .because("connectors, store and client must not know one another")
        .check(ALL);
  }

  @Test
  void keepsCoreFreeOfEverythingButTheJdk() {
    noClasses().that().resideInAPackage("plenzo.core..").should().dependOnClassesThat().resideOutsideOfPackages("plenzo.core..", "java.lang..", "java.util..", "java.math..", "java.time..", "java.nio.charset..", "java.security..", "java.io..", "org.jspecify..")
        .because("the computation must run anywhere").check(ALL);
    noClasses().that().resideInAnyPackage("plenzo.core..", "plenzo.engine..").should().dependOnClassesThat().resideInAnyPackage("org.springframework..", "java.sql..", "org.apache.ibatis..", "java.net.http..", "java.nio.file..")
        .because("frameworks stay outside").check(ALL);
  }

  @Test
  void readsClockAndRandomOnlyInWiring() {
    noClasses().that().resideInAnyPackage("plenzo.core..", "plenzo.engine..", "plenzo.store..").should().callMethod(java.time.Instant.class, "now").orShould().callMethod(UUID.class, "randomUUID").orShould().callMethod(System.class, "getenv", String.class)
        .because("time and ids come in through parameters").check(ALL);
  }

  @Test
  void buildsSqlInOnePackage() {
    noClasses().that().resideOutsideOfPackages("plenzo.connectors.database..", "plenzo.store..", "plenzo.demo..").should().dependOnClassesThat().resideInAPackage("java.sql..").because("only the connector and the store speak SQL").check(ALL);
  }

  @Test
  void hasNoCycles() {
    slices().matching("plenzo.engine.(*)..").should().beFreeOfCycles().because("each room has one door").check(ALL);
    slices().matching("plenzo.(*)..").should().beFreeOfCycles().because("modules point inward").check(ALL);
  }

  @Test
  void marksEveryPackageForNull() {
    classes().that().haveSimpleName("package-info").and().resideInAPackage("plenzo..").should().beAnnotatedWith(org.jspecify.annotations.NullMarked.class).because("null is said, never assumed").check(ALL);
  }
}
